import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { database, migrate } from '@/db';
import { addGame } from '@/server/games/games';
import { enqueue, queue } from '@/server/running/jobs';
import { storageRoot } from '@/server/storage/storage';
import { markStorage } from '@/server/storage/storage-mark';

const demoGames = z.array(z.object({ title: z.string(), folder: z.string(), notes: z.string().optional() }));

/** Brings the schema up to date and puts the demo games on the shelf, each once. */
const steps = await migrate(database());
for (const step of steps) process.stdout.write(`migrated ${step}\n`);
await markStorage();

const demo = process.env.ZERO_LATCH_DEMO;
if (demo && fs.existsSync(path.join(demo, 'games.json'))) await shelve(demo);
await (await queue()).stop({ graceful: false });
await database().close();

/** A game that was taken off the shelf stays off: the marker names all that have been there. */
async function shelve(folder: string): Promise<void> {
  const marker = path.join(storageRoot(), 'demo-games');
  const known = new Set(fs.existsSync(marker) ? fs.readFileSync(marker, 'utf8').split('\n') : []);
  const games = demoGames.parse(JSON.parse(fs.readFileSync(path.join(folder, 'games.json'), 'utf8')));
  for (const { title, folder: name, notes } of games) {
    if (known.has(name)) continue;
    const game = await addGame({
      title,
      folder: path.join(folder, name),
      notes: notes ? fs.readFileSync(path.join(folder, notes), 'utf8') : '',
    });
    await enqueue('scan', `Scan ${game.title}`, { gameId: game.id });
    fs.appendFileSync(marker, `${name}\n`);
  }
}
