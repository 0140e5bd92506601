import { FormatError } from '../bytes';
import { located, type Space } from './model';

/** A count is checked against the bytes left before anything is made for it. */
export function refuseCount(
  count: number,
  least: number,
  space: Space,
  at: number,
  end: number,
  path: () => string,
): void {
  if (count === Infinity) return;
  if (count * least > end - at)
    throw new FormatError('truncated', {
      fieldPath: path(),
      ...located(space, at),
      expected: `${count} items of at least ${least} bytes`,
      actual: `${end - at} bytes left`,
      remedy: 'The count is wrong, or the file is cut short',
    });
}
