import { FormatError } from '@/core/bytes';

/** Everything of a model was left out. */
export const nothingLeft = (file: string): FormatError =>
  new FormatError('bad-value', {
    ...{ file, why: 'nothing is left of it: all parts are left out, or have no triangles' },
    remedy: 'Take a part in again',
  });
