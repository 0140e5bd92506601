import type { MediumWays } from '../../way';

/** How films are taken out. */
export const filmWays: MediumWays = {
  title: 'Films',
  one: 'film',
  ways: [
    {
      ...{ name: 'mkv', label: 'as MKV', said: 'films as MKV', isPacked: true },
      help: 'Pictures and all sounds together as they are; nothing is coded anew. Streams that lie apart in an archive come together.',
    },
    {
      ...{ name: 'mp4', label: 'as MP4', said: 'films as MP4', isPacked: true },
      help: 'For editors and players: H.264 with AAC, all sounds with their languages. What is so already is not coded anew.',
    },
    {
      ...{ name: 'webm', label: 'as WebM', said: 'films as WebM', isPacked: true },
      help: 'For browsers: VP9 with Opus, all sounds with their languages. What is VP8, VP9 or AV1 with Opus or Vorbis already is not coded anew.',
    },
  ],
};
