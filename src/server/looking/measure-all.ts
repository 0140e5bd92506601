import { FOUND, type Measured } from '@/core/catalogue';
import { codeOfKind, type Kind } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import type { Measuring } from '@/media/medium';
import { MEDIA_NODE } from '@/media/node';
import { besideEntry, describedIn } from '@/platform/node/media-scripts';
import { gameCatalogue, type GameCatalogue } from '../entries/catalogue';
import { keepMeasured, keptMeasured, type MeasuredEntry } from '../entries/measured';
import { ArchivesInTurn } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import type { JobContext } from '../running/job-context';
import { UserError } from '@/platform/user-error';

/** How many entries of a kind a game has that are to be measured, and how many are. */
export interface Known {
  readonly kind: Kind;
  readonly all: number;
  readonly measured: number;
}

const measuringOf = (kind: Kind): Measuring => MEDIA_NODE.find((medium) => medium.kind === kind)!.measure!;

export function knownOf({ catalogue, archives }: GameCatalogue, kind: Kind): Known {
  const { kinds } = catalogue.columns;
  const found = catalogue.measures?.found;
  const code = codeOfKind(kind);
  let [all, measured] = [0, 0];
  for (let row = 0; row < catalogue.count; row++) {
    if (kinds[row] !== code || archives[catalogue.columns.archives[row]!]!.path === '') continue;
    all++;
    if (found && (found[row]! & FOUND.measured) !== 0) measured++;
  }
  return { kind, all, measured };
}

export interface MeasureResult extends Known {
  readonly detail: string;
}

/** As many are decoded by one process; see the converter. */
const TOGETHER = 32;
/** What was measured of an archive is kept so often, so that a stop costs little. */
const KEEP_MS = 4000;

const NOTHING: Measured = { found: FOUND.measured };
const BROKEN: Measured = { found: FOUND.measured | FOUND.broken };

/** What nobody here can decode is not broken for that. */
const failed = ({ code }: FormatError): Measured => (code === 'not-recognised' ? NOTHING : BROKEN);

/** Measures all entries of a kind that were not measured as they are now. Stopped, it keeps what it has, and goes on there when it is begun again. */
export async function measureAll(gameId: number, kind: Kind, job: JobContext): Promise<MeasureResult> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { catalogue, archives } = game;
  const { kinds, numbers, sizes, modified } = catalogue.columns;
  const code = codeOfKind(kind);
  const wanted = new Map<number, number[]>();
  for (let row = 0; row < catalogue.count; row++) {
    if (kinds[row] !== code) continue;
    if (catalogue.measures && (catalogue.measures.found[row]! & FOUND.measured) !== 0) continue;
    const position = catalogue.columns.archives[row]!;
    if (archives[position]!.path === '') continue;
    const rows = wanted.get(position);
    if (rows) rows.push(row);
    else wanted.set(position, [row]);
  }
  const total = [...wanted.values()].reduce((sum, { length }) => sum + length, 0);
  const inTurn = new ArchivesInTurn(gameId);
  let done = 0;
  try {
    for (const [position, rows] of wanted) {
      const archive = archives[position]!;
      const isThere = new Set(rows.map((row) => numbers[row]!));
      // What was measured of others stays; of those that are another by now it goes.
      const all = keptMeasured(gameId, archive, kind).filter(({ number }) => !isThere.has(number));
      let keptAt = Date.now();
      try {
        for (let from = 0; from < rows.length; from += TOGETHER) {
          const some = rows.slice(from, from + TOGETHER).map((row): Place => ({
            ...{ row, number: numbers[row]!, size: sizes[row]!, modified: modified[row]! },
            path: catalogue.path(row),
          }));
          job.check();
          job.progress(done, total, 'items', some[0]!.path);
          all.push(...(await measureSome(inTurn, archive.id, kind, some, job)));
          done += some.length;
          if (Date.now() - keptAt < KEEP_MS) continue;
          keepMeasured(gameId, archive, kind, all);
          keptAt = Date.now();
        }
      } finally {
        keepMeasured(gameId, archive, kind, all);
      }
    }
  } finally {
    inTurn.end();
  }
  const after = await gameCatalogue(gameId);
  const known = after ? knownOf(after, kind) : { kind, all: total, measured: done };
  const { words } = measuringOf(kind);
  const [counted, of] = [known.measured, known.all].map((number) => number.toLocaleString('en'));
  return {
    ...known,
    detail: `${done.toLocaleString('en')} ${words.done}; ${words.known} of ${counted} of ${of} are known.`,
  };
}

interface Place {
  readonly row: number;
  readonly number: number;
  readonly size: number;
  readonly modified: number;
  readonly path: string;
}

async function measureSome(
  inTurn: ArchivesInTurn,
  archiveId: number,
  kind: Kind,
  places: readonly Place[],
  job: JobContext,
): Promise<MeasuredEntry[]> {
  const found = new Map<number, Measured>();
  try {
    const { archive } = await inTurn.archive(archiveId);
    const context = { mediaScripts: mediaScriptFor, check: () => job.check() };
    const measuring = measuringOf(kind);
    const items = places.map(({ number, path }) => {
      const entry = archive.entries[number]!;
      return {
        plain: archive.plain(entry),
        path,
        beside: besideEntry(archive, entry.path),
        described: describedIn(archive, entry),
      };
    });
    await measuring.by.convert(items, context, (i, made) => {
      found.set(i, made instanceof FormatError ? failed(made) : orFailed(() => measuring.of(made)));
    });
  } catch (error) {
    // An archive that cannot be read, or a decoder that is not there, says nothing about what is in it: that is asked for again.
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    return [];
  }
  return [...found].map(([i, measured]) => {
    const { number, size, modified } = places[i]!;
    return { number, size, modified, ...measured };
  });
}

function orFailed(measure: () => Measured): Measured {
  try {
    return measure();
  } catch (error) {
    if (error instanceof FormatError) return failed(error);
    throw error;
  }
}
