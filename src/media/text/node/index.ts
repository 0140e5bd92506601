import type { MediumNode } from '@/media/medium';
import { decodeAnyText, textHead } from '../core/encoding';
import { fitText } from '../core/fit-text';
import { toPretty, toUtf8 } from './texts';

/** Texts, where there is Node. */
export const textNode: MediumNode = {
  kind: 'text',
  converters: { 'utf-8': toUtf8, pretty: toPretty },
  head({ first, held }) {
    const bytes = held();
    const text = decodeAnyText(bytes ?? first);
    return Promise.resolve(text && (bytes ? textHead(text) : { sort: 'large' }));
  },
  fit: (slot, given, mends) =>
    Promise.resolve(slot.kind === 'text' ? fitText(slot.bytes, given.bytes, mends) : undefined),
};
