import type { FitState } from '@/core/fit';
import type { Tone } from '../kit/StateMark';

export const FIT_TONES: Readonly<Record<FitState, Tone>> = {
  fits: 'good',
  look: 'look',
  'does not fit': 'bad',
};
