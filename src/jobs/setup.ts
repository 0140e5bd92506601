import fs from 'node:fs';
import path from 'node:path';
import { database, migrate } from '@/db';
import { addGame } from '@/server/games';
import { enqueue, queue } from '@/server/jobs';
import { storageRoot } from '@/server/storage';

/** Brings the schema up to date and, on the very first start, puts the demo game on the shelf. */
const steps = await migrate(database());
for (const step of steps) process.stdout.write(`migrated ${step}\n`);

const marker = path.join(storageRoot(), 'demo-registered');
const demo = process.env.ZERO_LATCH_DEMO;
if (demo && fs.existsSync(path.join(demo, 'lanternfen')) && !fs.existsSync(marker)) {
  const notes = fs.readFileSync(path.join(demo, 'lanternfen-help-card.txt'), 'utf8');
  const game = await addGame({ title: 'Lanternfen', folder: path.join(demo, 'lanternfen'), notes });
  await enqueue('scan', `Scan ${game.title}`, { gameId: game.id });
  fs.writeFileSync(marker, '');
}
await (await queue()).stop({ graceful: false });
await database().close();
