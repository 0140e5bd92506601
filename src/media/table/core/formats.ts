import type { MediumFormats } from '@/core/kinds/formats';

/** Tables in binary forms. CBOR may say itself what it is (RFC 8949, section 3.4.6); otherwise endings tell, where the first byte begins a list or a record. */
export const tableFormats: MediumFormats = {
  signs: [['cbor', { at: 0, text: '\xd9\xd9\xf7' }]],
  endings: {
    unsigned: 'cbor msgpack mpk',
    mayBe: {
      cbor: ([first = 0]) => (first >= 0x80 && first <= 0xbf) || first === 0xd9,
      msgpack: ([first = 0]) => (first >= 0x80 && first <= 0x9f) || (first >= 0xdc && first <= 0xdf),
      mpk: ([first = 0]) => (first >= 0x80 && first <= 0x9f) || (first >= 0xdc && first <= 0xdf),
    },
  },
};
