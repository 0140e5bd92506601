import type { MediumNode } from '@/media/medium';
import { decodeAnyText, MOST_TEXT_BYTES, textHead } from '../core/encoding';
import { fitText } from '../core/fit-text';
import { toPretty, toUtf8 } from './texts';

/** Texts, where there is Node. */
export const textNode: MediumNode = {
  kind: 'text',
  isLast: true,
  converters: { 'utf-8': toUtf8, pretty: toPretty },
  head({ first, held }) {
    const bytes = held();
    const text = decodeAnyText(bytes ?? first);
    return Promise.resolve(text && (bytes ? textHead(text) : { sort: 'large' }));
  },
  look(head, file) {
    if (head.sort !== 'text') return Promise.resolve(undefined);
    const { text } = decodeAnyText(file.bytes())!;
    const whole = file.size <= MOST_TEXT_BYTES;
    return Promise.resolve({ ...head, text: whole ? text : text.slice(0, MOST_TEXT_BYTES), whole });
  },
  fit: (slot, given, mends) =>
    Promise.resolve(slot.kind === 'text' ? fitText(slot.bytes, given.bytes, mends) : undefined),
};
