import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { writeHold, type HoldEntry } from '../hold-writer';
import { seeded } from '../random';

/**
 * A game as large as real ones, for measurements: many holds full of small entries. A part of the holds has no roll of
 * names; scenes in the others speak of most of what lies in them.
 */
const WORDS = (
  'actor amber anchor barge bell boat bridge buoy candle causeway chain chapel coat copper crane dock drift ember ferry fog ' +
  'frost gate gull harbour heron hull ibis jetty keeper lamp lantern ledger marsh mast moor net oar odd oil otter peat pier ' +
  'plank pole quay reed rope rudder sail sallow salt shed shore sluice spar spool sunken tar tide toll torch wake water weir ' +
  'well wharf wick widow willow wind'
).split(' ');
const KINDS = ['sheet', 'sheet', 'sheet', 'wav', 'form', 'gait', 'lines', 'json'];

interface Options {
  entries: number;
  archives: number;
  /** Part of the holds that have no roll. */
  unnamed: number;
}

/** Gives the paths of all entries, those without a name too. */
export function buildBig(folder: string, { entries, archives, unnamed }: Options): string[] {
  const holds = path.join(folder, 'holds');
  fs.mkdirSync(holds, { recursive: true });
  const random = seeded('a big game');
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const each = Math.ceil(entries / archives);
  const withoutRoll = Math.round(archives * unnamed);
  const spokenOf: string[] = [];
  const all: string[] = [];
  for (let number = archives - 1; number >= 0; number--) {
    // Those without a roll come last in the load order and first here, so that scenes can speak of them.
    const roll = number < archives - withoutRoll;
    const paths = new Set<string>();
    const room = roll ? each - Math.min(each, 40) : each;
    for (let i = 0; paths.size < room; i++) {
      const [area, place] = [pick(WORDS), pick(WORDS)];
      paths.add(`${area}/${place}_${i % 40}/${pick(WORDS)}_${pick(WORDS)}_${number}_${i}.${pick(KINDS)}`);
    }
    if (!roll) for (const one of paths) if (random() < 0.8) spokenOf.push(one);
    const list: HoldEntry[] = [...paths].map((name) => ({
      path: name,
      loose: true,
      data: () => Buffer.from(`${name.length} measures of ${name.slice(-24)}\n`),
    }));
    for (let scene = 0; roll && scene < Math.min(each, 40); scene++) {
      const part = spokenOf.splice(0, Math.ceil(spokenOf.length / 40));
      list.push({
        path: `scenes/hold_${number}/scene_${scene}.json`,
        loose: true,
        data: () => Buffer.from(`${JSON.stringify({ uses: part }, null, 1)}\n`),
      });
    }
    for (const { path: one } of list) all.push(one);
    const name = `h${String(number).padStart(3, '0')}-${WORDS[number % WORDS.length]}.hold`;
    const salt = createHash('md5').update(`big ${number}`).digest();
    writeHold(path.join(holds, name), list, { roll, salt, rank: number });
  }
  return all;
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    entries: { type: 'string', default: '1000000' },
    archives: { type: 'string', default: '200' },
    unnamed: { type: 'string', default: '0' },
    /** File for the paths of all entries, to hold what was learnt against. */
    names: { type: 'string' },
  },
});
const [what, target] = positionals;
if (what !== 'big' || !target) {
  process.stderr.write(
    'usage: bin/latch-demo big [--entries 1000000] [--archives 200] [--unnamed 0.4] [--names FILE] FOLDER\n',
  );
  process.exit(2);
}
const names = buildBig(path.resolve(process.env.INIT_CWD ?? '.', target), {
  entries: Number(values.entries),
  archives: Number(values.archives),
  unnamed: Number(values.unnamed),
});
if (values.names)
  fs.writeFileSync(path.resolve(process.env.INIT_CWD ?? '.', values.names), `${names.join('\n')}\n`);
