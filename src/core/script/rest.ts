import type { Compiled } from './types';

/** A size that reaches to the end of the region or file, but for so many bytes. */
export interface Rest {
  readonly lessBytes: number;
}

export const isRest = (size: Compiled | Rest): size is Rest => 'lessBytes' in size;

/** `rest`, or `rest - BYTES` where something of that length follows; undefined for any other size. */
export function restOf(text: string): Rest | undefined {
  const found = /^\s*rest\s*(?:-\s*(0x[0-9a-fA-F]{1,12}|\d{1,15})\s*)?$/.exec(text);
  return found ? { lessBytes: Number(found[1] ?? 0) } : undefined;
}
