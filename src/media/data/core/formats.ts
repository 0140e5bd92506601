import type { MediumFormats } from '@/core/kinds/formats';

/** Open formats of what is none of the other kinds. */
export const dataFormats: MediumFormats = {
  signs: [
    ['sqlite', { at: 0, text: 'SQLite format 3\0' }],
    ['otf', { at: 0, text: 'OTTO\0' }],
    ['ttf', { at: 0, text: '\0\x01\0\0\0' }],
    ['ttc', { at: 0, text: 'ttcf\0' }],
    ['woff', { at: 0, text: 'wOFF' }],
    ['woff2', { at: 0, text: 'wOF2' }],
    ['pdf', { at: 0, text: '%PDF-' }],
  ],
  endings: {},
};
