import { AsyncLocalStorage } from 'node:async_hooks';
import type { EntryStore } from '@/core/archive';

/** An archive that is open, for whoever reads from it. */
export interface Held {
  readonly archive: EntryStore;
  readonly close: () => void;
  /** Changes with the file, its key and its script. */
  readonly stamp: string;
  /** The archive that this one is an entry of; it stays open as long. */
  readonly within: number | undefined;
  /** How many read from it now. */
  readers: number;
  /** Whether it is closed once nobody reads from it. */
  isDropped: boolean;
}

/** What one request or piece of work has open: it stays so until that is over, whatever others open meanwhile. */
export interface Scope {
  readonly held: Set<Held>;
  /** Whatever was looked up for it, by a name of the asker's. */
  readonly known: Map<string, Promise<unknown>>;
  /** What goes on after it has to keep open itself what it needs. */
  isOver: boolean;
}

declare global {
  var zeroLatchOpened: Map<number, Held> | undefined;
  var zeroLatchOpenScope: AsyncLocalStorage<Scope> | undefined;
}
const opened = (): Map<number, Held> => (globalThis.zeroLatchOpened ??= new Map<number, Held>());
const scopes = (): AsyncLocalStorage<Scope> =>
  (globalThis.zeroLatchOpenScope ??= new AsyncLocalStorage<Scope>());

/** How many archives stay open between requests. */
const MOST_OPEN = 12;

export function currentScope(): Scope | undefined {
  const scope = scopes().getStore();
  return scope?.isOver ? undefined : scope;
}

/** Runs work whose archives stay open until it is over; each is looked up and opened once in it. */
export async function withOpened<T>(work: () => Promise<T>): Promise<T> {
  const scope: Scope = { held: new Set(), known: new Map(), isOver: false };
  try {
    return await scopes().run(scope, work);
  } finally {
    scope.isOver = true;
    for (const one of scope.held) release(one);
  }
}

/** Keeps what this request has open for something that goes on after it, a stream; the answer ends that, and may be called again. */
export function keepOpened(): () => void {
  const kept = [...(currentScope()?.held ?? [])];
  for (const one of kept) one.readers++;
  let isOver = false;
  return () => {
    if (isOver) return;
    isOver = true;
    for (const one of kept) release(one);
  };
}

function release(held: Held): void {
  held.readers--;
  if (held.isDropped && held.readers === 0) held.close();
}

function drop(id: number, held: Held): void {
  opened().delete(id);
  held.isDropped = true;
  if (held.readers === 0) held.close();
}

/** Drops what lies within an archive, which reads from it. */
function dropWithin(outer: number): void {
  for (const [id, held] of opened())
    if (held.within === outer) {
      dropWithin(id);
      drop(id, held);
    }
}

function read(held: Held): Held {
  const scope = currentScope();
  if (scope && !scope.held.has(held)) {
    scope.held.add(held);
    held.readers++;
  }
  return held;
}

/** What is open under a number, or is opened now. Those used longest ago are closed, once nobody reads from them. */
export function heldOrOpened(
  id: number,
  stamp: string,
  within: number | undefined,
  open: () => Pick<Held, 'archive' | 'close'>,
): Held {
  const held = opened();
  const known = held.get(id);
  held.delete(id);
  if (known?.stamp === stamp) {
    held.set(id, known);
    return read(known);
  }
  if (known) {
    dropWithin(id);
    drop(id, known);
  }
  const fresh: Held = { ...open(), stamp, within, readers: 0, isDropped: false };
  held.set(id, fresh);
  const outer = new Set<number | undefined>([id]);
  for (let at = within; at !== undefined; at = held.get(at)?.within) outer.add(at);
  for (const [old, one] of held) {
    if (held.size <= MOST_OPEN) break;
    if (outer.has(old)) continue;
    dropWithin(old);
    drop(old, one);
  }
  return read(fresh);
}
