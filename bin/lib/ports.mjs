import fs from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';

const isFree = (port) =>
  new Promise((resolve) => {
    const server = net.createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });

const folder = path.join(os.tmpdir(), 'zero-latch-ports');
const held = new Set();

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** Notes that a port is this process's, until it ends; false where another one that lives has noted it. */
function reserve(port) {
  fs.mkdirSync(folder, { recursive: true });
  const file = path.join(folder, String(port));
  for (let tries = 0; tries < 2; tries++)
    try {
      fs.writeFileSync(file, String(process.pid), { flag: 'wx' });
      held.add(file);
      return true;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const owner = Number(fs.readFileSync(file, 'utf8'));
      if (owner === process.pid) return true;
      if (owner > 0 && isAlive(owner)) return false;
      // Left behind by one that was killed. Whoever else sees that too, only one of us makes it anew.
      fs.rmSync(file, { force: true });
    }
  return false;
}

process.once('exit', () => {
  for (const file of held) fs.rmSync(file, { force: true });
});

/**
 * The first port on loopback from `first` on that is free and that no other start has noted as its own: between looking and listening, and
 * while a part is started again, another checkout must not take it.
 */
export async function freePort(first) {
  for (let port = first; port < first + 200; port++) {
    if (!(await isFree(port))) continue;
    let isOurs = false;
    try {
      isOurs = reserve(port);
    } catch {
      // Another user's note; that port is theirs.
    }
    if (isOurs) return port;
  }
  throw new Error(`No free port from ${first} to ${first + 199}.`);
}
