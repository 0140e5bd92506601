import fs from 'node:fs';
import path from 'node:path';
import { buildLanternfen, helpCard } from './lanternfen/build';

/** Builds the demo world below a folder, beside what is there, and puts it in place in one step. */
async function build(target: string): Promise<void> {
  const fresh = `${target}.new`;
  fs.rmSync(fresh, { recursive: true, force: true });
  await buildLanternfen(path.join(fresh, 'lanternfen'));
  fs.writeFileSync(path.join(fresh, 'lanternfen-help-card.txt'), helpCard());
  fs.rmSync(target, { recursive: true, force: true });
  fs.renameSync(fresh, target);
}

const [target] = process.argv.slice(2);
if (!target) {
  process.stderr.write('usage: npm run demo -- FOLDER\n');
  process.exit(2);
}
await build(path.resolve(target));
