import { endingOf, fileStem } from '@/core/kinds';
import { TAKE_ENDINGS } from './settings';

/** What no system of files takes in a name, and what turns the order of its letters round. */
const UNFIT = /[\p{Cc}\u202a-\u202e\u2066-\u2069"*/:<>?\\|]+/gu;

/**
 * What a file that is made of a model is called, without its ending: as was asked for, or like the model. The ending always follows from
 * what is made, so that one that was asked for along with the name, of a model or that of the entry, is taken off; other points stay.
 */
export function stemFor(called: string, path: string): string {
  const clean = called.replace(UNFIT, '_').trim();
  const ending = endingOf(clean);
  const known = [...TAKE_ENDINGS, 'zip', endingOf(path)];
  const stem = ending !== '' && known.includes(ending) ? clean.slice(0, -ending.length - 1) : clean;
  const bare = stem.replace(/^[.\s]+|[.\s]+$/g, '');
  return bare === '' ? fileStem(path) || 'model' : bare;
}
