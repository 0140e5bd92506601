import { expect, test } from '@jest/globals';
import { painted } from '../../../../../demo/world/drawing/painted';
import { sharp } from './sharp';

const DRAWING =
  '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="3"><rect width="4" height="3"/></svg>';

test('drawings are painted in a process of the application too, which lets in none before and after', async () => {
  const read = () => sharp(Buffer.from(DRAWING)).png().toBuffer();
  await expect(read()).rejects.toThrow('unsupported');
  const sizes = await Promise.all([1, 2, 3].map(() => painted(DRAWING, (picture) => picture.metadata())));
  expect(sizes.map(({ width, height }) => [width, height])).toEqual([
    [4, 3],
    [4, 3],
    [4, 3],
  ]);
  await expect(painted('no drawing', (picture) => picture.png().toBuffer())).rejects.toThrow();
  await expect(read()).rejects.toThrow('unsupported');
});
