import { FOUND, type Measured } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import { MEDIA_NODE } from '@/media/node';
import { besideEntry, describedIn } from '@/platform/node/media-scripts';
import { gameCatalogue, type GameCatalogue } from '../entries/catalogue';
import { keepMeasured, keptMeasured, type MeasuredEntry } from '../entries/measured';
import { ArchivesInTurn } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import type { JobContext } from '../running/job-context';
import { UserError } from '@/platform/user-error';

/** How many sounds a game has that are to be measured, and how many are. */
export interface Listened {
  readonly sounds: number;
  readonly measured: number;
}

/** The media whose entries are measured, which takes decoding them, by the codes of their kinds. */
const MEASURING = new Map(
  MEDIA_NODE.filter(({ measure }) => measure).map((medium) => [codeOfKind(medium.kind), medium]),
);

export function listenedOf({ catalogue, archives }: GameCatalogue): Listened {
  const { kinds } = catalogue.columns;
  const found = catalogue.measures?.found;
  let [sounds, measured] = [0, 0];
  for (let row = 0; row < catalogue.count; row++) {
    if (!MEASURING.has(kinds[row]!) || archives[catalogue.columns.archives[row]!]!.path === '') continue;
    sounds++;
    if (found && (found[row]! & FOUND.measured) !== 0) measured++;
  }
  return { sounds, measured };
}

export interface ListenResult extends Listened {
  readonly detail: string;
}

/** As many are decoded by one process; see the converter. */
const TOGETHER = 32;
/** What was measured of an archive is kept so often, so that a stop costs little. */
const KEEP_MS = 4000;

const NOTHING: Measured = {
  ...{ length: Number.NaN, level: Number.NaN, rate: Number.NaN, channels: Number.NaN },
  found: FOUND.measured,
};
const BROKEN: Measured = { ...NOTHING, found: FOUND.measured | FOUND.broken };

/** What nobody here can decode is not broken for that. */
const failed = ({ code }: FormatError): Measured => (code === 'not-recognised' ? NOTHING : BROKEN);

/** Measures all sounds of a game that were not measured as they are now. Stopped, it keeps what it has, and goes on there when it is begun again. */
export async function listenToAll(gameId: number, job: JobContext): Promise<ListenResult> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { catalogue, archives } = game;
  const { kinds, numbers, sizes, modified } = catalogue.columns;
  const wanted = new Map<number, number[]>();
  for (let row = 0; row < catalogue.count; row++) {
    if (!MEASURING.has(kinds[row]!)) continue;
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
      const all = keptMeasured(gameId, archive).filter(({ number }) => !isThere.has(number));
      let keptAt = Date.now();
      try {
        for (let from = 0; from < rows.length; from += TOGETHER) {
          const some = rows.slice(from, from + TOGETHER).map((row): Place => ({
            ...{ row, number: numbers[row]!, size: sizes[row]!, modified: modified[row]! },
            ...{ path: catalogue.path(row), kind: kinds[row]! },
          }));
          job.check();
          job.progress(done, total, 'items', some[0]!.path);
          all.push(...(await measureSome(inTurn, archive.id, some, job)));
          done += some.length;
          if (Date.now() - keptAt < KEEP_MS) continue;
          keepMeasured(gameId, archive, all);
          keptAt = Date.now();
        }
      } finally {
        keepMeasured(gameId, archive, all);
      }
    }
  } finally {
    inTurn.end();
  }
  const after = await gameCatalogue(gameId);
  const listened = after ? listenedOf(after) : { sounds: total, measured: done };
  return {
    ...listened,
    detail: `${done.toLocaleString('en')} sounds were listened to; length and level of ${listened.measured.toLocaleString('en')} of ${listened.sounds.toLocaleString('en')} are known.`,
  };
}

interface Place {
  readonly row: number;
  readonly number: number;
  readonly size: number;
  readonly modified: number;
  readonly path: string;
  /** Code of its kind. */
  readonly kind: number;
}

async function measureSome(
  inTurn: ArchivesInTurn,
  archiveId: number,
  places: readonly Place[],
  job: JobContext,
): Promise<MeasuredEntry[]> {
  const found = new Map<number, Measured>();
  try {
    const { archive } = await inTurn.archive(archiveId);
    const context = { mediaScripts: mediaScriptFor, check: () => job.check() };
    for (const [kind, { measure, converters = {} }] of MEASURING) {
      const own = [...places.entries()].filter(([, place]) => place.kind === kind);
      const items = own.map(([, { number, path }]) => {
        const entry = archive.entries[number]!;
        return {
          plain: archive.plain(entry),
          path,
          beside: besideEntry(archive, entry.path),
          described: describedIn(archive, entry),
        };
      });
      await converters[measure!.way]!.convert(items, context, (i, made) => {
        const one = made instanceof FormatError ? failed(made) : orFailed(() => measure!.of(made));
        found.set(own[i]![0], one);
      });
    }
  } catch (error) {
    // An archive that cannot be read, or a decoder that is not there, says nothing about its sounds: they are asked for again.
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
