import type { MediumWays } from '../../way';

/** How loud sounds are made where they are made even, in dB below full scale: near to what speech in games often is. */
export const EVEN_DB = -16;

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
      name: 'wav16',
      label: 'as WAV of 16 bits',
      said: 'sounds as WAV of 16 bits',
      help: 'Whole numbers of 16 bits, whatever the sound has; a loop and cues go along.',
    },
    {
      name: 'wav24',
      label: 'as WAV of 24 bits',
      said: 'sounds as WAV of 24 bits',
      help: 'Whole numbers of 24 bits, whatever the sound has; a loop and cues go along.',
    },
    {
      name: 'wavf',
      label: 'as WAV of floats',
      said: 'sounds as WAV of floats',
      help: 'Floats of 32 bits, which editors work with; a loop and cues go along.',
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
    ...(
      [
        ['wav', 'WAV'],
        ['ogg', 'Ogg Vorbis'],
        ['mp3', 'MP3'],
      ] as const
    ).map(([name, title]) => ({
      name: `${name}-even`,
      label: `as ${title}, all as loud`,
      said: `sounds as ${title}, all as loud`,
      help: `Each made as loud as ${EVEN_DB} dB below full scale, as far as no peak is cut off. Takes twice the time.`,
    })),
  ],
};
