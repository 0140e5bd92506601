import type { Archive, Entry, OpenOptions } from '../../archive';
import { openPlanned, reopened } from '../open-planned';
import { planArchive } from '../plan';
import { editEntries } from './edit-entries';
import { codecsOf, likeOf } from './recode';

/**
 * An entry as it would be were it kept in another codec, with the bytes of one that is: what something that is given for it has to be like. Its archive
 * is opened without being written, and only for as long as `work` takes.
 */
export function withRecoded<T>(
  archive: Archive,
  entry: Entry,
  word: string,
  options: OpenOptions,
  work: (archive: Archive, entry: Entry) => T,
): T {
  const codec = codecsOf(entry).find((one) => one.word === word);
  const like = codec && likeOf(archive, entry, codec);
  const edited = editEntries(reopened(archive, options), { recoded: new Map([[entry.index, word]]) });
  const number = edited.newNumbers[entry.index]!;
  const plan = planArchive(edited.archive, new Map([[number, archive.plain(like ?? entry)]]), {
    edits: edited.marks,
  });
  try {
    const made = openPlanned(plan, options);
    return work(made, made.entries[number]!);
  } finally {
    plan.discard();
  }
}
