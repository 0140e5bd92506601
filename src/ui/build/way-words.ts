import type { Way } from '@/core/mod';

export const WAY_WORDS: Readonly<Record<Way, { title: string; why: string }>> = {
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
};
