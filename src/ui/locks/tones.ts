import type { ArchiveView } from '@/server/games/archives';
import type { Tone } from '../kit/StateMark';

/** How each state of an archive is marked. */
export const ARCHIVE_TONES: Record<ArchiveView['state'], Tone> = {
  open: 'good',
  locked: 'lock',
  broken: 'bad',
  gone: 'mute',
};
