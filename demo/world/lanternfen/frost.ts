import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { HoldEntry } from '../hold-writer';
import { writeHold4 } from '../hold4-writer';
import { mumble, wash } from '../sounds';
import { FROST_KEY, FROSTWATER_KEY, programFile } from './program';

/** What the update is made of, as the game before it has it. */
export interface FrostParts {
  core: readonly HoldEntry[];
  sheets: readonly HoldEntry[];
}

const TONGUES = ['en', 'de', 'no'];

const CALLS: Record<string, string[]> = {
  en: ['The water has gone quiet.', 'Mind the ice on the third plank.', 'Nobody rows in this.'],
  de: ['Das Wasser ist still geworden.', 'Achte auf das Eis auf der dritten Planke.', 'Hier rudert niemand.'],
  no: ['Vannet er blitt stille.', 'Pass deg for isen.', 'Ingen ror i dette.'],
};

/** The scene that the update opens with; all that it names is in its holds. */
function frostScene(): HoldEntry[] {
  const scene = {
    backdrop: 'places/jetty/jetty_frost.sheet',
    figure: 'actors/odd/portrait_calm.sheet',
    title: 'screens/title.sheet',
    lines: 'text/en/ferry.lines',
    line: 'jetty.greeting',
    voice: 'voice/en/odd/frost_1.wav',
    water: 'sound/ice/creak.wav',
  };
  const plan = Buffer.from(`${JSON.stringify(scene, null, 2)}\n`);
  const creak = wash('ice', 0.12, 0.5);
  return [
    { path: 'scenes/frost.scene', data: () => plan },
    { path: scene.water, data: () => creak },
  ];
}

const CHANGED = 'text/de/ferry.lines';

/** What somebody else's mod had done before the folder came here: a table laid loose over the holds, with lines of its own, and beside it the one that it found. */
function leaveChanged(folder: string, core: readonly HoldEntry[]): void {
  const found = core.find(({ path: name }) => name === CHANGED)!.data();
  const file = path.join(folder, 'spill', CHANGED);
  fs.mkdirSync(path.dirname(file), { recursive: true });
  fs.writeFileSync(`${file}.orig`, found);
  const lines = found.toString().split('\n');
  const own = lines.map((line) =>
    line.startsWith('jetty.greeting\t') ? 'jetty.greeting\tObacht, die dritte Planke!' : line,
  );
  fs.writeFileSync(file, own.join('\n'));
}

/** The frost update: the game again on Peatfire 4, with a new key, one hold for each tongue, and an expansion. */
export function buildFrost(folder: string, { core, sheets }: FrostParts): void {
  const holds = path.join(folder, 'holds');
  fs.mkdirSync(holds, { recursive: true });
  const saltOf = (name: string): Buffer => createHash('md5').update(`frost ${name}`).digest();
  const hold = (
    name: string,
    entries: readonly HoldEntry[],
    rank: number,
    how: { key?: Buffer; second?: boolean; roll?: boolean; title?: string } = {},
  ): void =>
    writeHold4(path.join(holds, name), entries, {
      rank,
      salt: saltOf(name),
      roll: how.roll ?? true,
      title: how.title ?? '',
      ...(how.key && { key: how.key }),
      ...(how.second && { second: true }),
    });
  fs.writeFileSync(
    path.join(folder, 'Lanternfen.bin'),
    programFile('Lanternfen frost', 1 << 20, [FROST_KEY], 'Peatfire 4.0 Oddharbour Works'),
  );
  fs.writeFileSync(
    path.join(folder, 'harbour-launcher.bin'),
    programFile('frost launcher', 1 << 17, [], 'Harbour launcher'),
  );
  fs.writeFileSync(
    path.join(folder, 'frostwater.bin'),
    programFile('Frostwater', 1 << 18, [FROSTWATER_KEY], 'Peatfire 4.0 Frostwater'),
  );
  fs.writeFileSync(
    path.join(folder, 'readme.txt'),
    'Lanternfen 4.0, the frost update\nOddharbour Works, on Peatfire 4\n',
  );
  fs.writeFileSync(path.join(folder, 'settings.ini'), '[game]\ntongue=en\nscene=frost\n');
  leaveChanged(folder, core);
  const spoken = (entry: HoldEntry): string | undefined => /^text\/([a-z]{2})\//.exec(entry.path)?.[1];
  hold('h00-core.hold', [...core.filter((entry) => !spoken(entry)), ...frostScene()], 0);
  hold('h01-sheets.hold', sheets, 1, { key: FROST_KEY });
  for (const tongue of TONGUES) {
    const calls = CALLS[tongue]!.map((text, i): HoldEntry => {
      const data = mumble(text, 96);
      return { path: `voice/${tongue}/odd/frost_${i + 1}.wav`, data: () => data };
    });
    const texts = core.filter((entry) => spoken(entry) === tongue);
    hold(`h10-${tongue}.hold`, [...texts, ...calls], 10, { key: FROST_KEY, title: tongue });
  }
  const places = sheets.filter(({ path: name }) => name.startsWith('places/') && name.includes('_fog'));
  const frozen = places.map((entry) => ({ ...entry, path: entry.path.replace(/_fog/, '_frost') }));
  hold('h30-frostwater.hold', frozen, 30, { key: FROSTWATER_KEY, second: true, title: 'Frostwater' });
  hold('h90-amends.hold', frozen.slice(0, 3), 90, { key: FROST_KEY, roll: false });
}
