import type { Finding } from '@/core/fit';
import { loudnessOf, type Sound } from '../audio';
import { foundInSound } from '../wording';

/** Levels that are farther apart are heard as another loudness altogether. */
const MOST_APART_DB = 10;
/** More silence than this at an end, and than the slot has there, is heard as a delay. */
const MOST_SILENCE = 0.25;

/** What is heard otherwise than in the slot: level, and silence at the ends. */
export function heard(slot: Sound, made: Sound): Finding[] {
  const [was, is] = [loudnessOf(slot.channels, slot.rate), loudnessOf(made.channels, made.rate)];
  // Of what was silence nothing can be expected.
  if (was.level === Number.NEGATIVE_INFINITY) return [];
  if (is.level === Number.NEGATIVE_INFINITY) return [foundInSound('look', 'silent', {})];
  const found: Finding[] = [];
  if (Math.abs(is.level - was.level) > MOST_APART_DB)
    found.push(foundInSound('look', 'level', { is: is.level, was: was.level }));
  for (const [at, before, now] of [
    ['start', was.before, is.before],
    ['end', was.behind, is.behind],
  ] as const)
    if (now > MOST_SILENCE && now > before + MOST_SILENCE)
      found.push(foundInSound('look', 'silence', { at, is: now, was: before }));
  return found;
}
