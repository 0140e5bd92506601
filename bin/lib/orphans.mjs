// The parts that a start has launched are written down, so that the next one can end those that a kill has left behind.
import fs from 'node:fs';
import path from 'node:path';

const fileOf = (data) => path.join(data, 'parts.json');

/** When a process began, in ticks since the machine did: with its number it names a process for good. */
function begunAt(pid) {
  try {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name of the program may hold blanks and brackets; the fields are counted from behind it.
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return undefined;
  }
}

/** Notes the parts that run, each the leader of a group. */
export function noteParts(data, pids) {
  const parts = pids.map((pid) => ({ pid, begun: begunAt(pid) })).filter(({ begun }) => begun !== undefined);
  const file = fileOf(data);
  fs.writeFileSync(`${file}.new`, JSON.stringify(parts), { mode: 0o600 });
  fs.renameSync(`${file}.new`, file);
}

/** Ends the groups of parts that an earlier start left behind, and says how many there were. */
export function endOrphans(data) {
  let parts;
  try {
    parts = JSON.parse(fs.readFileSync(fileOf(data), 'utf8'));
  } catch {
    return 0;
  }
  let count = 0;
  for (const { pid, begun } of parts) {
    if (begun === undefined || begunAt(pid) !== begun) continue;
    try {
      process.kill(-pid, 'SIGKILL');
      count++;
    } catch {
      // It ended in between.
    }
  }
  fs.rmSync(fileOf(data), { force: true });
  return count;
}
