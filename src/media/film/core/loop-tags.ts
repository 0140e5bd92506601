import type { MetadataTags } from 'mediabunny';

/** Seconds; where it is played again from, and the end of the last that is heard before that. */
export interface LoopTag {
  readonly from: number;
  readonly to: number;
}

/**
 * The loop that comments of a packed sound tell: LOOPSTART with LOOPLENGTH or LOOPEND, in frames at its rate, as several players of games read
 * them. They are comments of Ogg and FLAC (RFC 9639, section 8.6) and TXXX frames of ID3v2. One that goes on behind the end of the sound, after
 * `seconds`, ends there. Undefined where they tell none that can be played.
 */
export function loopOfTags(raw: MetadataTags['raw'], rate: number, seconds = Infinity): LoopTag | undefined {
  const told = new Map<string, number>();
  const own = raw?.TXXX;
  const all = { ...raw, ...(own && typeof own === 'object' && !(own instanceof Uint8Array) ? own : {}) };
  for (const [key, value] of Object.entries(all)) {
    const name = /^loop_?(start|length|end)$/i.exec(key)?.[1]?.toLowerCase();
    const text: unknown = Array.isArray(value) ? value[0] : value;
    if (name && typeof text === 'string' && /^\d{1,15}$/.test(text.trim())) told.set(name, Number(text));
  }
  const from = told.get('start');
  const length = told.get('length');
  const to = from !== undefined && length !== undefined ? from + length : told.get('end');
  if (from === undefined || to === undefined || to <= from || !(rate > 0)) return undefined;
  if (from / rate >= seconds) return undefined;
  return { from: from / rate, to: Math.min(to / rate, seconds) };
}
