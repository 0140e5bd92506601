import type { Mend, Prepared } from '@/core/fit';
import type { MediaScripts } from '@/platform/node/media-scripts';
import type { Head } from './head';
import { foundAnywhere } from './wording';
import type { HeadFile, MediaTools, MediumFile, MediumNode } from './medium';

const SHOWN_BYTES = 12;

/**
 * What a file tells of itself: the head that the first medium gives which knows it, else its first bytes. `told` is asked before text,
 * since what a script tells of its files comes before what any bytes can be.
 */
export async function headBy(
  media: readonly MediumNode[],
  file: HeadFile,
  scripts: MediaScripts,
  told: () => Promise<Head | undefined> = () => Promise.resolve(undefined),
): Promise<Head> {
  for (const medium of media) {
    const head = (medium.isLast && (await told())) || (await medium.head?.(file, scripts));
    if (head) return head;
  }
  const shown = [...file.first.subarray(0, SHOWN_BYTES)].map((byte) => byte.toString(16).padStart(2, '0'));
  return { sort: 'data', first: shown.join(' ') };
}

/** Makes what is given ready for a slot, by the first medium that knows the slot; that of its kind is asked before all others. */
export async function fitBy(
  media: readonly MediumNode[],
  slot: MediumFile & { readonly kind: string },
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared> {
  const own = media.filter(({ kind }) => kind === slot.kind);
  for (const { fit } of [...own, ...media.filter(({ kind }) => kind !== slot.kind)]) {
    const ready = await fit?.(slot, given, mends, tools);
    if (ready) return ready;
  }
  return {
    bytes: given.bytes,
    findings: [foundAnywhere('look', 'unknown', { is: given.bytes.length, was: slot.bytes.length })],
  };
}
