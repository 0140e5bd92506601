import fs from 'node:fs';
import path from 'node:path';
import { buildLanternfen, helpCard } from './lanternfen/build';
import { wardrobeNames } from './lanternfen/wardrobe';
import { buildFrost } from './lanternfen/frost';
import { buildQuillmoor } from './quillmoor/build';
import { buildTallow } from './tallow/build';

/** What the application puts on its shelf at the first start; `notes` is a file beside this list. */
const GAMES = [
  { title: 'Lanternfen', folder: 'lanternfen', notes: 'lanternfen-help-card.txt' },
  { title: 'Lanternfen, frost update', folder: 'lanternfen-frost' },
  { title: 'Tallow & Tide', folder: 'tallow-and-tide' },
  { title: 'Quillmoor', folder: 'quillmoor' },
];

/** Builds the demo world below a folder, beside what is there, and puts it in place in one step. */
async function build(target: string): Promise<void> {
  const fresh = `${target}.new`;
  fs.rmSync(fresh, { recursive: true, force: true });
  const tallow = buildTallow(path.join(fresh, 'tallow-and-tide'));
  const parts = await buildLanternfen(path.join(fresh, 'lanternfen'));
  buildFrost(path.join(fresh, 'lanternfen-frost'), parts);
  await tallow;
  await buildQuillmoor(path.join(fresh, 'quillmoor'));
  fs.writeFileSync(path.join(fresh, 'lanternfen-help-card.txt'), helpCard());
  fs.writeFileSync(path.join(fresh, 'lanternfen-wardrobe-names.txt'), wardrobeNames());
  fs.writeFileSync(path.join(fresh, 'games.json'), JSON.stringify(GAMES, null, 2));
  fs.rmSync(target, { recursive: true, force: true });
  fs.renameSync(fresh, target);
}

const [target] = process.argv.slice(2);
if (!target) {
  process.stderr.write('usage: npm run demo -- FOLDER\n');
  process.exit(2);
}
await build(path.resolve(target));
