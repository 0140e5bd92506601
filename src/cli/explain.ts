import type { Archive, OpenOptions, Stretch } from '@/core/archive';
import { FormatError, toHex } from '@/core/bytes';
import { tellsOf } from '@/media/archive/core';
import { explainParts, type Explanation, type ReadEvaluation } from '@/core/script';
import type { Output } from './commands';
import { openGiven, openOptions, type OpenArguments } from './open';
import { UsageError } from './usage-error';

/** Stretches of an archive that are told at the most. */
const MOST_STRETCHES = 200;
const SHOWN_BYTES = 16;

/**
 * Says of every field where it lies and what is in it, as far as reading came, then what nothing explains and what is
 * claimed twice. It is for those who write a script, so a script that fails half-way still shows its first half.
 */
export function explain(
  paths: readonly string[],
  given: OpenArguments & { most: string; json?: boolean },
  output: Output,
): number {
  const most = Number(given.most);
  if (!Number.isInteger(most) || most < 1) throw new UsageError('--most takes a whole number from 1 on');
  let good = true;
  for (const path of paths) if (!explainOne(path, given, most, output)) good = false;
  return good ? 0 : 1;
}

function explainOne(
  path: string,
  given: OpenArguments & { json?: boolean },
  most: number,
  output: Output,
): boolean {
  let context: ReadEvaluation | undefined;
  const options: OpenOptions = { ...openOptions(given), onReading: (reading) => void (context = reading) };
  const say = (line: Line): void => output.out(given.json ? JSON.stringify(line.facts) : line.text);
  let close: (() => void) | undefined;
  let archive: Archive | undefined;
  let failure: FormatError | undefined;
  try {
    const opened = openGiven(path, given, options);
    ({ archive } = opened);
    close = () => opened.close();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    failure = error;
  }
  let holds = !failure;
  if (context)
    for (const field of explainParts(context, { most, unjudged: !context.isRead })) {
      if (field.expected !== undefined) holds = false;
      say(lineOf(field, context));
    }
  if (archive) {
    for (const [title, value] of tellsOf(archive))
      say({ text: `${' '.repeat(22)}  ${title}: ${value}`, facts: { tells: title, value } });
    for (const line of leftOver(archive)) say(line);
  }
  for (const entry of (archive?.entries ?? []).filter(({ problem }) => problem).slice(0, MOST_STRETCHES)) {
    holds = false;
    output.complain(entry.problem!.message);
  }
  if (archive && archive.coverage.overlaps.length > 0) {
    holds = false;
    output.complain(`${path}: ${archive.coverage.overlaps.length} stretches are claimed twice; see above`);
  }
  close?.();
  if (failure) output.complain(failure.message);
  return holds;
}

interface Line {
  readonly text: string;
  readonly facts: object;
}

function lineOf(field: Explanation, { files }: ReadEvaluation): Line {
  const { path, file, within, offset, length, type, role, value, expected, more } = field;
  if (more !== undefined) return { text: `${' '.repeat(22)}  ${path}: ${more} more`, facts: { path, more } };
  const place = offset === undefined ? '' : `${offset}`;
  const where = [file > 0 && !within ? files.all[file]!.fileName : '', within ? `in ${within}` : ''].filter(
    Boolean,
  );
  const what = [type, role === 'carried' ? '' : role].filter(Boolean).join(', ');
  const wrong = expected === undefined ? '' : `  IS NOT ${expected}`;
  const text = `${place.padStart(12)} ${(offset === undefined ? '' : `${length}`).padStart(9)}  ${path} = ${value}  (${[what, ...where].join('; ')})${wrong}`;
  return { text, facts: { ...field, ...(file > 0 && { fileName: files.all[file]!.fileName }) } };
}

function* leftOver(archive: Archive): Generator<Line> {
  const { explained, gaps, overlaps } = archive.coverage;
  yield {
    text: `${archive.entries.length} entries; ${explained} bytes explained, ${gaps.length} stretches are not, ${overlaps.length} are claimed twice`,
    facts: {
      entries: archive.entries.length,
      explained,
      unexplained: gaps.length,
      claimedTwice: overlaps.length,
    },
  };
  for (const gap of gaps.slice(0, MOST_STRETCHES)) yield stretchLine(archive, gap, 'unexplained');
  for (const overlap of overlaps.slice(0, MOST_STRETCHES))
    yield stretchLine(archive, overlap, 'claimed twice');
}

function stretchLine(archive: Archive, { file, offset, length, what }: Stretch, how: string): Line {
  const { source } = archive.files[file]!.space;
  const bytes = toHex(source.read(offset, Math.min(SHOWN_BYTES, length)));
  const shown = `${bytes.replace(/(..)(?=.)/g, '$1 ')}${length > SHOWN_BYTES ? ' …' : ''}`;
  const name = file > 0 ? ` of ${archive.files[file]!.fileName}` : '';
  const by = how === 'unexplained' ? '' : ` by ${what}`;
  return {
    text: `${String(offset).padStart(12)} ${String(length).padStart(9)}  ${how}${by}${name}: ${shown}`,
    facts: {
      [how === 'unexplained' ? 'gap' : 'overlap']: { file: archive.files[file]!.fileName, offset, length },
      bytes,
    },
  };
}
