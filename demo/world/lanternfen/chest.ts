import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeHold, type HoldEntry } from '../hold-writer';

/** The chest of clothes: a hold whose entries are holds again, one for each wearer, and one with a film at its bottom. */
export function chestEntries(coats: readonly HoldEntry[], film?: HoldEntry): HoldEntry[] {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'demo-chest-'));
  const byWearer = new Map<string, HoldEntry[]>();
  const own = coats.map((coat) => ({ coat, path: coat.path.split('/').slice(1) }));
  if (film) own.push({ coat: film, path: film.path.split('/') });
  for (const { coat, path: steps } of own) {
    const [who, ...rest] = steps;
    const theirs = byWearer.get(who!) ?? [];
    if (theirs.length === 0) byWearer.set(who!, theirs);
    theirs.push({ ...coat, path: rest.join('/') });
  }
  try {
    return [...byWearer].map(([who, entries]) => {
      const file = path.join(folder, `${who}.hold`);
      writeHold(file, entries, { roll: true, rank: 0, salt: createHash('md5').update(who).digest() });
      const bytes = fs.readFileSync(file);
      return { path: `chest/${who}.hold`, data: () => bytes, loose: true };
    });
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}
