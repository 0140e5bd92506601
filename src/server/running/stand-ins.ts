import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';

const StandIn = z.object({ id: z.string(), title: z.string(), knownBy: z.string(), program: z.string() });
export type StandIn = z.infer<typeof StandIn>;

/** The stand-in games that ship with the application; only these are ever run. */
export function standIns(): StandIn[] {
  const file = path.join(process.cwd(), 'demo', 'runtime', 'stand-ins.json');
  return z.array(StandIn).parse(JSON.parse(fs.readFileSync(file, 'utf8')));
}

/** The stand-in that knows a folder by a file in it. */
export const standInFor = (folder: string): StandIn | undefined =>
  standIns().find(({ knownBy }) => fs.existsSync(path.join(folder, knownBy)));
