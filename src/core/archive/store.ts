import type { BytesRef } from '../bytes';
import type { ResolvedStep } from '../script';
import type { Entry } from './archive';

/** What is known of an entry wherever it lies. */
export type StoredEntry = Pick<
  Entry,
  'index' | 'path' | 'named' | 'hash' | 'offset' | 'storedSize' | 'size' | 'modified' | 'problem'
>;

/** What is needed to look at entries and to take them out: an archive, or something that is read like one. */
export interface EntryStore {
  readonly entries: ArrayLike<StoredEntry>;
  steps(entry: StoredEntry): ResolvedStep[];
  stored(entry: StoredEntry): BytesRef;
  plain(entry: StoredEntry): BytesRef;
  discard(): void;
}
