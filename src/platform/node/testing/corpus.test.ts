import { expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { readShelf } from '../script-shelf';
import { exerciseBytes } from './exercise-bytes';

const corpus = path.resolve('src/platform/node/testing/corpus');
const shelf = readShelf();

/** Files that once brought out more than an error in words: `npm run fuzz` keeps them. */
test.each(fs.readdirSync(corpus))('%s is taken or refused in words, and soon', async (name) => {
  const bytes = new Uint8Array(fs.readFileSync(path.join(corpus, name)));
  expect(await exerciseBytes(bytes, shelf)).toBeGreaterThanOrEqual(0);
});
