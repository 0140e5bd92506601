import type { MediumWays } from '../../way';

/** How sounds are taken out. */
export const soundWays: MediumWays = {
  title: 'Sounds',
  one: 'sound',
  ways: [
    {
      name: 'wav',
      label: 'as WAV',
      said: 'sounds as WAV',
      help: 'Plain samples, as wide as the sound has them; a WAV of plain samples stays as it is.',
    },
    {
      name: 'flac',
      label: 'as FLAC',
      said: 'sounds as FLAC',
      help: 'The same samples in about half the room, for editors that read it. A loop goes along as a comment.',
    },
    {
      name: 'ogg',
      label: 'as Ogg Vorbis',
      said: 'sounds as Ogg Vorbis',
      help: 'A tenth of the room, good enough to listen to (quality 6). What is Vorbis already stays as it is.',
    },
    {
      name: 'opus',
      label: 'as Opus',
      said: 'sounds as Opus',
      help: 'At 96 kbit/s and 48,000 Hz. What is Opus already stays as it is.',
    },
    {
      name: 'mp3',
      label: 'as MP3',
      said: 'sounds as MP3',
      help: 'For players that know nothing else (quality V2). What is MP3 already stays as it is.',
    },
  ],
};
