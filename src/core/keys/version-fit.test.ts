import { describe, expect, test } from '@jest/globals';
import { fitsVersion } from './version-fit';

describe('a key for a version', () => {
  test.each([
    ['Peatfire 3', ['Peatfire 3'], true],
    ['peatfire  3', ['Peatfire 3.2.1'], true],
    ['3', ['version 3.2'], true],
    ['3.2', ['Peatfire 3', 'version 3.2'], true],
    ['3', ['version 13'], false],
    ['3', ['version 4.3'], false],
    ['3', ['version 32'], false],
    ['Peatfire 4', ['Peatfire 3', 'version 4.0'], false],
    ['', ['Peatfire 3'], true],
    ['anything', [], true],
  ])('%s with files that tell %j: %s', (wanted, told, fits) => {
    expect(fitsVersion(wanted, told)).toBe(fits);
  });
});
