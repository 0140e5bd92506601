import { readWave, readWaveFacts, remix, resample, writeWave16 } from '../media/audio';
import type { Finding, Mend, Prepared } from './finding';

const seconds = (frames: number, rate: number): string => `${(frames / rate).toFixed(2)} s`;

/** Makes a given wave file ready for the slot of another. */
export function fitSound(slot: Uint8Array, given: Uint8Array, mends: ReadonlySet<Mend>): Prepared {
  const wanted = readWaveFacts(slot);
  const got = readWaveFacts(given);
  const spelled = (facts: typeof got): string =>
    `${facts.rate} Hz, ${facts.channels === 1 ? 'mono' : `${facts.channels} channels`}, ${facts.bits} bits`;
  const findings: Finding[] = [];
  let bytes = given;
  const same = wanted.rate === got.rate && wanted.channels === got.channels && wanted.bits === got.bits;
  if (!same) {
    if (!mends.has('convert sound') || wanted.bits !== 16) {
      findings.push({
        state: 'does not fit',
        what: `${spelled(got)} given, the slot has ${spelled(wanted)}`,
        why: 'A game plays samples at the rate that it expects; others run fast, slow or not at all',
        ...(wanted.bits === 16 && {
          mend: { name: 'convert sound', label: `Convert to ${spelled(wanted)}` } as const,
        }),
      });
      return { bytes: undefined, findings };
    }
    const sound = readWave(given);
    const channels = remix(sound.channels, wanted.channels).map((channel) =>
      resample(channel, sound.rate, wanted.rate),
    );
    bytes = writeWave16({ rate: wanted.rate, channels });
    findings.push({
      state: 'fits',
      what: `${spelled(got)} converted to ${spelled(wanted)}`,
      why: 'As the slot has it',
    });
  } else findings.push({ state: 'fits', what: spelled(got), why: 'As the slot has it' });
  const before = wanted.frames / wanted.rate;
  const after = got.frames / got.rate;
  if (Math.abs(after - before) > Math.max(0.5, before * 0.5))
    findings.push({
      state: 'look',
      what: `${seconds(got.frames, got.rate)} instead of ${seconds(wanted.frames, wanted.rate)}`,
      why: 'What runs beside the sound, lips or a cut, may have ended or not yet begun',
    });
  return { bytes, findings };
}
