import type { BuildWay } from '@/core/mod';

export const WAY_WORDS: Readonly<Record<BuildWay, { title: string; why: string }>> = {
  shifted: {
    title: 'Everything in its order',
    why: 'What lies behind a change moves to make room. The file looks as if it came so.',
  },
  appended: {
    title: 'Changes at the end',
    why: 'What is unchanged keeps its place; an entry that outgrows its own goes behind the last one. The file grows.',
  },
  packed: {
    title: 'Packed anew',
    why: 'All places are chosen anew without gaps. The file gets as small as it can.',
  },
  patch: {
    title: 'An archive of its own',
    why: 'Only what is changed, in a new archive that is loaded last. The files of the game stay as they are.',
  },
  loose: {
    title: 'Loose files',
    why: 'Each change is a file in the folder in which the game looks before its archives.',
  },
};
