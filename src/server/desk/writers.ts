import { idOf, type LineId } from '@/media/text/core/desk';
import { notify } from './live';

/** Whoever has a line under their hands; `who` is the page, so that nobody is told of themselves. */
export interface Writer {
  readonly by: string;
  readonly who: string;
}

interface Kept extends Writer {
  readonly until: number;
}

declare global {
  var zeroLatchWriters: Map<string, Kept> | undefined;
}
const writers = (): Map<string, Kept> => (globalThis.zeroLatchWriters ??= new Map());

/** One that says nothing for so long has gone away. */
const KEPT_MS = 120_000;
/** So many are kept at most, whoever asks. */
const MOST_KEPT = 2000;

const nameOf = (modId: number, tongue: string, line: LineId): string => `${modId} ${tongue} ${idOf(line)}`;

/** Notes that somebody began to write in a line, or left it. */
export function sayWriting(
  modId: number,
  tongue: string,
  line: LineId,
  { by, who }: Writer,
  isOn: boolean,
): void {
  const all = writers();
  const now = Date.now();
  for (const [name, { until, who: other }] of all) if (until < now || other === who) all.delete(name);
  if (isOn && all.size < MOST_KEPT) all.set(nameOf(modId, tongue, line), { by, who, until: now + KEPT_MS });
  notify(modId);
}

/** Whoever writes in a line now. */
export function writerOf(modId: number, tongue: string, line: LineId): Writer | null {
  const found = writers().get(nameOf(modId, tongue, line));
  return found && found.until >= Date.now() ? { by: found.by, who: found.who } : null;
}
