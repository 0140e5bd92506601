import fs from 'node:fs';
import path from 'node:path';
import { gunzipSync, createGzip } from 'node:zlib';
import { once } from 'node:events';
import { logText, readLogText, type ItemState, type RunItem } from '@/platform/node/run-log';
import { storageFolder } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** Logs of so many runs are kept; older ones only lie beside their output. */
const MOST_KEPT = 60;
const logFile = (jobId: string): string => path.join(storageFolder('runs'), `${jobId}.tsv.gz`);

/** Keeps the log of a run, for the application to show; a later run writes over the one in the output folder. */
export async function keepLog(jobId: string, items: Iterable<RunItem>): Promise<void> {
  const file = logFile(jobId);
  const gzip = createGzip({ level: 1 });
  const out = gzip.pipe(fs.createWriteStream(`${file}.part`));
  for (const piece of logText(items)) if (!gzip.write(piece)) await once(gzip, 'drain');
  gzip.end();
  await once(out, 'close');
  fs.renameSync(`${file}.part`, file);
  const kept = fs
    .readdirSync(storageFolder('runs'))
    .map((name) => path.join(storageFolder('runs'), name))
    .map((one) => ({ one, time: fs.statSync(one, { throwIfNoEntry: false })?.mtimeMs ?? 0 }))
    .sort((a, b) => b.time - a.time);
  for (const { one } of kept.slice(MOST_KEPT)) fs.rmSync(one, { force: true });
}

/** What became of the entries of a run, in its order. */
export function readLog(jobId: string): RunItem[] {
  const file = logFile(jobId);
  if (!fs.existsSync(file))
    throw new UserError(
      410,
      'The log of this run is no longer kept here; the last one lies beside its output.',
    );
  return readLogText(gunzipSync(fs.readFileSync(file)).toString('utf8'));
}

/** Some of what became of the entries of a run: of one state, with some words in path or reason. */
export function someOfLog(
  jobId: string,
  wanted: { state?: ItemState | undefined; text: string; offset: number; limit: number },
): { items: RunItem[]; count: number } {
  const text = wanted.text.toLowerCase();
  const items = readLog(jobId).filter(
    (item) =>
      (wanted.state === undefined || item.state === wanted.state) &&
      (text === '' || item.path.toLowerCase().includes(text) || item.reason.toLowerCase().includes(text)),
  );
  return { items: items.slice(wanted.offset, wanted.offset + wanted.limit), count: items.length };
}
