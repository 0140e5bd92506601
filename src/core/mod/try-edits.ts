import type { Archive, Entry, OpenOptions } from '../archive';
import { collect, FormatError, refOfBytes, type BytesRef } from '../bytes';
import { asCount, asText } from '../script';
import { withPlan, type Claim, type ProofProgress } from './claims';
import { editEntries, type EditedArchive } from './edit/edit-entries';
import { newPieces } from './edit/repiece';
import { openPlanned, reopened } from './open-planned';
import { planArchive } from './plan';
import { proveBuild } from './prove-build';
import { WAYS, type Way } from './ways';

/** Entries larger than this are not tried, so that a proof does not hold them. */
const LARGEST_TRIED = 4 << 20;
/** Bytes by which an entry is made longer: no multiple of any usual unit. */
const LONGER_BY = 37;

interface Trial {
  readonly what: string;
  readonly changes: ReadonlyMap<number, BytesRef>;
}

/** What came of the trials of a kind: how many were right, and why others were refused. */
interface Outcome {
  right: number;
  readonly refused: Map<string, string>;
}

/** Of more entries one trial a way has to do. */
const MANY_ENTRIES = 4096;

/**
 * Does to an archive what a repack does, with the writer that a repack uses, in memory: entries are made longer, shorter and
 * empty in every way of writing, one is added and one taken out, and each result is opened again and held against what was
 * meant. What the writer refuses in words harms nobody; what it writes has to be right. Adding, taking out and keeping places need more
 * of a script than changing does; where one says too little, a repack finds out by the same comparison, and the proof says so.
 */
export function editsClaim(
  archive: Archive,
  options: OpenOptions,
  progress?: ProofProgress,
): Omit<Claim, 'claim'> {
  const outcome: Outcome = { right: 0, refused: new Map() };
  const trials = trialsOf(archive);
  let done = 0;
  if (archive.entries.length > MANY_ENTRIES && trials.length > 0 && allAtOnce(archive, options, trials[0]!))
    outcome.right += 3;
  const alone = outcome.right === 0;
  for (const way of alone ? WAYS : WAYS.filter((one) => one !== 'shifted'))
    for (const { what, changes } of trials) {
      progress?.(done++, trials.length * WAYS.length, `${what}, ${way}`);
      const wrong = tried(outcome, way, () => differenceAfter(archive, options, changes, way));
      if (wrong === undefined) continue;
      // Whoever writes it so finds out as well, and is told; the other ways have to do.
      if (way === 'appended') outcome.refused.set(way, `it would come out wrong: ${wrong}`);
      else return { holds: false, detail: `with ${what} (${way}) it would come out wrong: ${wrong}` };
    }
  for (const trial of alone ? entryEdits(archive) : []) {
    const { what } = trial;
    const wrong = tried(outcome, what, () => differenceAfterEdit(archive, options, trial));
    if (wrong === undefined) continue;
    // Streams of a film are always written so.
    if (trial.changes) return { holds: false, detail: `with ${what} it would come out wrong: ${wrong}` };
    outcome.refused.set(what, `it would come out wrong: ${wrong}`);
  }
  const refused = [...outcome.refused].map(([what, why]) => `${what} is refused (${why})`);
  return { holds: true, detail: [`${outcome.right} trials right`, ...refused].join('; ') };
}

/**
 * Whether changing, adding and taking out are right in one, which spares an archive of many entries two more trials; where they are not,
 * each by itself tells which.
 */
function allAtOnce(archive: Archive, options: OpenOptions, { changes }: Trial): boolean {
  const removed = archive.entries.find(({ index, problem }) => !changes.has(index) && !problem);
  if (!removed) return false;
  try {
    const edited = editEntries(reopened(archive, options), {
      // More than are taken out, so that whatever counts them has to follow.
      added: freshPaths(archive, 2).map((path) => ({ path })),
      removed: new Set([removed.index]),
    });
    const moved = new Map<number, BytesRef>();
    for (const [index, bytes] of changes) moved.set(edited.newNumbers[index]!, bytes);
    for (const index of edited.added) moved.set(index, refOfBytes(NEW_ENTRY));
    return differenceAfter(archive, options, moved, 'shifted', edited) === undefined;
  } catch (error) {
    if (error instanceof FormatError) return false;
    throw error;
  }
}

/** What is wrong with a result; a refusal is noted. */
function tried(outcome: Outcome, what: string, work: () => string | undefined): string | undefined {
  try {
    const wrong = work();
    if (wrong === undefined) outcome.right++;
    return wrong;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    if (!outcome.refused.has(what)) outcome.refused.set(what, error.facts.why ?? error.message);
    return undefined;
  }
}

/** Entries that are tried: the first, the last and one between of each group, as far as they are not large. */
function triedEntries(archive: Archive): Entry[] {
  const chosen: Entry[] = [];
  for (const group of archive.script.entries) {
    const own = archive.entries.filter(
      (entry) => entry.group === group && !entry.problem && entry.storedSize <= LARGEST_TRIED,
    );
    for (const at of new Set([0, own.length >> 1, own.length - 1])) {
      const entry = own[at];
      if (entry && entry.size <= LARGEST_TRIED) chosen.push(entry);
    }
  }
  return chosen;
}

/** Bytes of one item of an entry that is a stream of a model; 1 of any other. */
function unitOf({ context }: Archive, { group: { model }, row }: Entry): number {
  if (model?.stride) return Math.max(1, asCount(model.stride.run(context, row)));
  const bits = /\d+$/.exec(model?.as ? asText(model.as.run(context, row)) : '')?.[0];
  return bits === undefined ? 1 : (3 * Number(bits)) / 8;
}

/** Bytes in whole items, filled up or cut. */
function inWhole(bytes: Uint8Array, unit: number, isFilled: boolean): Uint8Array {
  const items = bytes.length / unit;
  const out = new Uint8Array(unit * (isFilled ? Math.ceil(items) : Math.floor(items)));
  out.set(bytes.subarray(0, out.length));
  return out;
}

/** Each chosen entry is made longer, shorter and empty in turn, so that its neighbours stay and move. */
function trialsOf(archive: Archive): Trial[] {
  const chosen = triedEntries(archive).map((entry) => ({
    index: entry.index,
    plain: collect(archive.plain(entry)).slice(),
    unit: unitOf(archive, entry),
  }));
  const change = (of: (plain: Uint8Array, i: number) => Uint8Array | undefined): Map<number, BytesRef> => {
    const changes = new Map<number, BytesRef>();
    chosen.forEach(({ index, plain, unit }, i) => {
      const made = of(plain, i);
      const bytes = made && inWhole(made, unit, made.length > plain.length);
      if (bytes && bytes.length !== plain.length) changes.set(index, refOfBytes(bytes));
    });
    return changes;
  };
  const turned = (turn: number): Map<number, BytesRef> =>
    change((plain, i) => [longer, shorter, () => new Uint8Array(0)][(i + turn) % 3]!(plain));
  const mixed = { what: 'entries longer, shorter and empty', changes: turned(0) };
  // Each trial lays all of it out anew, so that of many entries all is done to them at once.
  if (archive.entries.length > MANY_ENTRIES && mixed.changes.size > 0) return [mixed];
  return [
    { what: 'entries made longer', changes: change(longer) },
    { what: 'entries made shorter', changes: change(shorter) },
    mixed,
    { what: 'entries shorter, empty and longer', changes: turned(1) },
  ].filter(({ changes }) => changes.size > 0);
}

function longer(plain: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(plain.length + LONGER_BY);
  bytes.set(plain);
  for (let i = 0; i < LONGER_BY; i++) bytes[plain.length + i] = (plain[i % plain.length] ?? 0) ^ (i * 29 + 1);
  return bytes;
}

const shorter = (plain: Uint8Array): Uint8Array => plain.slice(0, Math.floor(plain.length / 2));

function differenceAfter(
  archive: Archive,
  options: OpenOptions,
  changes: ReadonlyMap<number, BytesRef>,
  way: Way,
  edited?: EditedArchive,
): string | undefined {
  const planned = edited?.archive ?? archive;
  const how = edited ? { way, edits: edited.marks } : { way };
  return withPlan(planArchive(planned, changes, how), (plan) => {
    try {
      const built = openPlanned(plan, options);
      const { claims } = proveBuild(archive, built, { changes, edited }, PROVE);
      return claims.find(({ holds }) => !holds)?.detail;
    } catch (error) {
      if (error instanceof FormatError) return error.message;
      throw error;
    }
  });
}

/** The archive itself was looked through and rewritten already. */
const PROVE = { lookThroughBytes: 0, onlyReopened: true };

const NEW_ENTRY = new TextEncoder().encode('a new entry of its own');

interface EditTrial {
  readonly what: string;
  readonly edit: (open: () => Archive) => EditedArchive;
  /** New contents of entries that stay, by the numbers that they had. */
  readonly changes?: ReadonlyMap<number, BytesRef>;
}

function entryEdits(archive: Archive): EditTrial[] {
  const { entries } = archive;
  if (entries.length === 0) return [];
  const middle = entries[entries.length >> 1]!;
  const streams = streamsOf(archive);
  const [fresh = 'new'] = freshPaths(archive, 1);
  return [
    { what: 'an entry added', edit: (open) => editEntries(open(), { added: [{ path: fresh }] }) },
    { what: 'an entry taken out', edit: (open) => editEntries(open(), { removed: new Set([middle.index]) }) },
    ...(streams.size > 0
      ? [
          {
            what: 'streams cut anew',
            edit: (open: () => Archive) => editEntries(open(), { pieces: newPieces(open(), streams) }),
            changes: streams,
          },
        ]
      : []),
  ];
}

/** Streams in pieces with times, which are put in as they are: cut anew they have to come out the same. */
function streamsOf(archive: Archive): Map<number, BytesRef> {
  const own = archive.entries.filter(
    ({ group, problem, storedSize }) =>
      group.film?.cut && !problem && storedSize > 0 && storedSize <= LARGEST_TRIED,
  );
  return new Map(own.map((entry) => [entry.index, refOfBytes(collect(archive.plain(entry)).slice())]));
}

/** Paths like one that is there, which are not there yet. */
function freshPaths({ entries }: Archive, count: number): string[] {
  const like = entries.find(({ named, problem }) => named && !problem)?.path ?? 'new';
  const known = new Set(entries.map(({ path }) => path.toLowerCase()));
  const dot = like.lastIndexOf('.');
  const at = dot > like.lastIndexOf('/') + 1 ? dot : like.length;
  const found: string[] = [];
  for (let number = 0; found.length < count; number++) {
    const letter = String.fromCharCode(97 + (number % 26)) + (number < 26 ? '' : Math.floor(number / 26));
    // As long as the name it is like, since fields may be full.
    const path = `${like.slice(0, Math.max(like.lastIndexOf('/') + 1, at - letter.length))}${letter}${like.slice(at)}`;
    if (!known.has(path.toLowerCase())) found.push(path);
  }
  return found;
}

function differenceAfterEdit(
  archive: Archive,
  options: OpenOptions,
  { edit, changes: given = new Map<number, BytesRef>() }: EditTrial,
): string | undefined {
  const edited = edit(() => reopened(archive, options));
  const changes = new Map(edited.added.map((index) => [index, refOfBytes(NEW_ENTRY)]));
  for (const [index, bytes] of given) changes.set(edited.newNumbers[index]!, bytes);
  return differenceAfter(archive, options, changes, 'shifted', edited);
}
