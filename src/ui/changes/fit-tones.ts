import type { FitShown } from '@/core/fit';
import type { Tone } from '../kit/StateMark';

export const FIT_TONES: Readonly<Record<FitShown, Tone>> = {
  fits: 'good',
  look: 'look',
  'let pass': 'look',
  'does not fit': 'bad',
};
