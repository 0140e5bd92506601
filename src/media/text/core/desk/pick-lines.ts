import { isChanged, textNow, type DeskLine, type LineWork } from './desk-line';

/** What lines are shown. */
export const SHOWN = [
  'all',
  'empty',
  'changed',
  'failing',
  'to look at',
  'same',
  'draft',
  'done',
  'reviewed',
] as const;
export type Shown = (typeof SHOWN)[number];

/** What lines are put in order by; each may go backwards. */
export const LINE_ORDERS = ['game', 'key', 'source', 'target', 'length', 'changed'] as const;
export type LineOrder = (typeof LINE_ORDERS)[number];

export interface LineQuery {
  readonly shown: Shown;
  /** Stands in the key, the source or the text, whatever the case. */
  readonly text: string;
  readonly place: string;
  readonly speaker: string;
  readonly order: LineOrder;
  readonly isBackwards: boolean;
}

export interface LineFacts {
  readonly line: DeskLine;
  readonly work: LineWork | undefined;
  readonly wrong: number;
  readonly look: number;
}

/** Numbers of the lines that a query asks for, in its order. */
export function pickLines(count: number, factsOf: (index: number) => LineFacts, query: LineQuery): number[] {
  const wanted = query.text.toLocaleLowerCase();
  const found: number[] = [];
  for (let index = 0; index < count; index++) {
    const facts = factsOf(index);
    const { line } = facts;
    if (query.place !== '' && line.place !== query.place) continue;
    if (query.speaker !== '' && line.speaker !== query.speaker) continue;
    if (!isShown(facts, query.shown)) continue;
    if (wanted !== '' && !holds(facts, wanted)) continue;
    found.push(index);
  }
  return inOrder(found, factsOf, query);
}

function isShown({ line, work, wrong, look }: LineFacts, shown: Shown): boolean {
  switch (shown) {
    case 'all':
      return true;
    case 'empty':
      return textNow(line, work) === '';
    case 'changed':
      return isChanged(line, work);
    case 'failing':
      return wrong > 0;
    case 'to look at':
      return look > 0;
    case 'same':
      return line.source !== undefined && line.source !== '' && textNow(line, work) === line.source;
    default:
      return work?.state === shown;
  }
}

interface Low {
  /** Key and texts of other languages. */
  readonly fixed: string;
  readonly was: string;
}
const lows = new WeakMap<DeskLine, Low>();

/** What is looked through, in small letters; worked out once for each line. */
function lowOf(line: DeskLine): Low {
  let low = lows.get(line);
  if (!low) {
    const fixed = [line.key, line.source ?? '', ...line.others.map((other) => other ?? '')].join('\n');
    lows.set(line, (low = { fixed: fixed.toLocaleLowerCase(), was: (line.was ?? '').toLocaleLowerCase() }));
  }
  return low;
}

function holds({ line, work }: LineFacts, wanted: string): boolean {
  const { fixed, was } = lowOf(line);
  return fixed.includes(wanted) || (work ? work.text.toLocaleLowerCase() : was).includes(wanted);
}

function inOrder(
  found: number[],
  factsOf: (index: number) => LineFacts,
  { order, isBackwards }: LineQuery,
): number[] {
  const turn = isBackwards ? -1 : 1;
  if (order === 'game') return isBackwards ? found.reverse() : found;
  const valueOf = (index: number): string | number => {
    const { line, work } = factsOf(index);
    if (order === 'key') return line.key;
    if (order === 'source') return line.source ?? '';
    if (order === 'target') return textNow(line, work);
    if (order === 'length') return textNow(line, work).length;
    return work?.at ?? '';
  };
  const values = new Map(found.map((index) => [index, valueOf(index)]));
  const compare = new Intl.Collator(undefined, { numeric: true }).compare;
  return found.sort((a, b) => {
    const [one, other] = [values.get(a)!, values.get(b)!];
    const by = typeof one === 'number' ? one - (other as number) : compare(one, other as string);
    return by === 0 ? a - b : turn * by;
  });
}
