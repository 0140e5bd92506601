import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readScriptFile } from '@/platform/node/script-shelf';
import { parseScript, type Script } from '../../script';
import { chanceFrom, editOnce, type Subject } from '../../testing/edit-fuzz';
import { anyFormat, anyItems, archiveOf, scriptOf } from '../../testing/generated-formats';
import { entriesOf, holdBytes, holdScript, options as holdOptions } from '../../testing/holds';
import { companionsIn, referenceScripts, SAMPLES } from '../../testing/reference-samples';
import { bare } from '../../testing/round-trip';

/**
 * No edit of any format ends in a wrong archive that is taken for good. More of them: ZERO_LATCH_EDITS=1000000; another
 * beginning: ZERO_LATCH_SEED=7.
 */
const EDITS = Number(process.env.ZERO_LATCH_EDITS ?? 1200);
const SEED = Number(process.env.ZERO_LATCH_SEED ?? Date.now() % 2 ** 31);
/** One edit of so many is shown to the ordinary tool as well, since that costs a process. */
const TOOL_EVERY = 60;

const FILES: Record<string, string> = {
  'in/one.txt': 'hello\n',
  'in/deep/two.txt': Array.from({ length: 40 }, (_, i) => `line ${i}\n`).join(''),
  'in/empty.txt': '',
  'in/three.bin': 'x'.repeat(513),
};

let folder: string;
const at = (name: string): string => path.join(folder, name);
const run = (command: string, args: string[], input?: string): Buffer =>
  execFileSync(command, args, { cwd: folder, input, stdio: ['pipe', 'pipe', 'ignore'], maxBuffer: 1 << 26 });
const read = (name: string): Uint8Array => new Uint8Array(fs.readFileSync(at(name)));

beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-edits-'));
  for (const [name, text] of Object.entries(FILES)) {
    fs.mkdirSync(path.dirname(at(name)), { recursive: true });
    fs.writeFileSync(at(name), text);
  }
});
afterAll(() => fs.rmSync(folder, { recursive: true }));

/** What a tool writes out of an archive. */
function unpackedBy(
  command: string,
  args: string[],
  file: string,
): (bytes: Uint8Array) => Map<string, Buffer> {
  return (bytes) => {
    fs.rmSync(at('out'), { recursive: true, force: true });
    fs.mkdirSync(at('out'));
    fs.writeFileSync(at(`out/${file}`), bytes);
    const piped = command === 'cpio' ? { input: bytes } : {};
    const { status } = spawnSync(command, args, {
      cwd: at('out'),
      stdio: ['pipe', 'pipe', 'ignore'],
      ...piped,
    });
    // Of an archive without entries unzip warns.
    if (status !== 0 && !(command === 'unzip' && status === 1))
      throw new Error(`${command} ended with ${status}`);
    fs.rmSync(at(`out/${file}`));
    const found = fs.readdirSync(at('out'), { recursive: true, encoding: 'utf8' });
    return new Map(
      found
        .filter((name) => fs.statSync(at(`out/${name}`)).isFile())
        .map((name) => [name, fs.readFileSync(at(`out/${name}`))]),
    );
  };
}

function toolSubjects(): Subject[] {
  const names = Object.keys(FILES);
  run('tar', ['--format=gnu', '-cf', 'gnu.tar', ...names]);
  run('tar', ['--format=posix', '-cf', 'posix.tar', ...names]);
  run('zip', ['-q', 'deflated.zip', ...names]);
  run('zip', ['-q0', 'stored.zip', ...names]);
  run('ar', ['rc', 'short.a', ...names]);
  fs.writeFileSync(at('new.cpio'), run('cpio', ['-o', '-H', 'newc', '--quiet'], names.join('\n')));
  fs.writeFileSync(at('one.gz'), run('gzip', ['-c', 'in/deep/two.txt']));
  const shipped = (name: string, script: string, judge?: Subject['judge']): Subject => ({
    name,
    script: readScriptFile(`scripts/formats/${script}.yaml`),
    bytes: read(name),
    options: bare,
    ...(judge && { judge }),
  });
  return [
    shipped('gnu.tar', 'tar', unpackedBy('tar', ['-xf', 'x.tar'], 'x.tar')),
    shipped('posix.tar', 'tar', unpackedBy('tar', ['-xf', 'x.tar'], 'x.tar')),
    shipped('deflated.zip', 'zip', unpackedBy('unzip', ['-qo', 'x.zip'], 'x.zip')),
    shipped('stored.zip', 'zip', unpackedBy('unzip', ['-qo', 'x.zip'], 'x.zip')),
    shipped('short.a', 'ar'),
    shipped('new.cpio', 'cpio', unpackedBy('cpio', ['-id', '--quiet'], 'x.cpio')),
    shipped('one.gz', 'gzip'),
  ];
}

function referenceSubjects(): Subject[] {
  return Object.entries(SAMPLES).map(([name, make]) => {
    const { bytes, beside, names = [], keys = {} } = make();
    return {
      name,
      script: referenceScripts.get(name)!,
      bytes,
      options: { ...bare, companion: companionsIn(beside), keys: new Map(Object.entries(keys)) },
      names,
    };
  });
}

/** The archive of the first lesson, by its last two scripts, and once with an empty entry whose place says nothing. */
function lessonSubjects(): Subject[] {
  const page = fs.readFileSync('docs/first-script.md', 'utf8');
  const lamps = new Uint8Array(fs.readFileSync('docs/first-script/lamps.wick'));
  const scriptOfStep = (step: string): Script =>
    parseScript(new RegExp(`# step: ${step}\\n([\\s\\S]*?)\`\`\``).exec(page)![1]!);
  const emptied = Buffer.from(lamps);
  // The row of the readme: place, stored size, plain size and CRC-32 of nothing.
  emptied.fill(0, 173, 189);
  // All of them: nothing in the file says where payloads go.
  const hollow = Buffer.concat([lamps.subarray(0, 12), lamps.subarray(95)]);
  hollow.writeUInt32LE(12, 8);
  for (const end of [128, 161, 189]) hollow.fill(0, end - 16 - 83, end - 83);
  hollow[128 + 17 - 1 - 83] = 0;
  const proved = scriptOfStep('proved');
  return [
    { name: 'lamps', script: proved, bytes: lamps, options: bare },
    { name: 'strict lamps', script: scriptOfStep('strict'), bytes: lamps, options: bare },
    { name: 'lamps, one empty', script: proved, bytes: emptied, options: bare },
    { name: 'lamps, all empty', script: proved, bytes: hollow, options: bare },
  ];
}

const holdSubject = (): Subject => ({
  name: 'hold',
  script: holdScript,
  bytes: holdBytes(entriesOf(FILES)),
  options: holdOptions,
  names: Object.keys(FILES),
});

function madeSubjects(count: number): Subject[] {
  return fc
    .sample(fc.tuple(anyFormat, anyItems), { numRuns: count, seed: SEED })
    .map(([format, items], i) => {
      const one = format.rows === 'parallel' ? { ...format, counted: true } : format;
      return {
        name: `made ${i} ${JSON.stringify(one)}`,
        script: parseScript(scriptOf(one)),
        bytes: archiveOf(one, items),
        options: bare,
      };
    });
}

test(`${EDITS} edits, none of them wrong and taken for good (seed ${SEED})`, () => {
  const subjects = [
    ...toolSubjects(),
    ...referenceSubjects(),
    ...lessonSubjects(),
    holdSubject(),
    ...madeSubjects(120),
  ];
  const counts = new Map<string, { right: number; refused: number }>();
  const chance = chanceFrom(SEED);
  for (let i = 0; i < EDITS; i++) {
    // Formats of chance count as one.
    const known = subjects.length - 120;
    const number = chance() < 0.3 ? known + Math.floor(chance() * 120) : Math.floor(chance() * known);
    const subject = subjects[number]!;
    const own = Math.floor(chance() * 2 ** 32);
    const key = number < known ? subject.name : 'made';
    const count = counts.get(key) ?? { right: 0, refused: 0 };
    counts.set(key, count);
    try {
      count[editOnce(subject, chanceFrom(own), i % TOOL_EVERY === 0)]++;
    } catch (error) {
      throw new Error(
        `${subject.name}, edit ${i} of seed ${SEED} (own ${own}): ${(error as Error).message}`,
        {
          cause: error,
        },
      );
    }
  }
  if (process.env.ZERO_LATCH_SHOW)
    process.stdout.write(
      `${[...counts].map(([name, { right, refused }]) => `${name}: ${right} right, ${refused} refused`).join('\n')}\n`,
    );
  // A format that only ever refuses is not tried at all.
  for (const [name, { right }] of counts) expect([name, right > 0]).toEqual([name, true]);
}, 600_000);
