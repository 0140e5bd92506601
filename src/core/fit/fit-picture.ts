import {
  decodeLevel,
  psnr,
  replacePixels,
  usesAlpha,
  type Pixels,
  type WrappedPicture,
} from '../media/texture';
import type { Finding, Mend, Prepared } from './finding';

/** Below this a trained eye sees blocks; it is pointed out, not refused. */
const GOOD_PSNR = 32;

/**
 * Makes a given picture ready for the slot of a wrapped one. `resized` supplies the picture at the slot's
 * size for the mend of that name.
 */
export function fitPicture(
  slot: WrappedPicture,
  given: Pixels,
  mends: ReadonlySet<Mend>,
  resized: () => Pixels,
): Prepared {
  const findings: Finding[] = [];
  let pixels = given;
  const size = `${slot.width} x ${slot.height}`;
  if (given.width !== slot.width || given.height !== slot.height) {
    const was = `${given.width} x ${given.height}`;
    if (!mends.has('resize')) {
      findings.push({
        state: 'does not fit',
        what: `${was} given, the slot is ${size}`,
        why: 'The head of the slot states a size, and everything that uses the picture counts on it',
        mend: { name: 'resize', label: `Resize to ${size}` },
      });
      return { bytes: undefined, findings };
    }
    pixels = resized();
    findings.push({
      state: 'look',
      what: `resized from ${was} to ${size}`,
      why: 'Resizing softens fine detail',
    });
  }
  const alpha = usesAlpha(pixels);
  if (alpha && slot.layout.alpha !== 'full') {
    if (!mends.has('drop alpha')) {
      findings.push({
        state: 'does not fit',
        what: `transparency given, ${slot.layout.title} keeps ${slot.layout.alpha === 'none' ? 'none' : 'one bit of it'}`,
        why: 'The game would show hard edges or a solid area',
        mend: { name: 'drop alpha', label: 'Make it opaque' },
      });
      return { bytes: undefined, findings };
    }
    pixels = opaque(pixels);
    findings.push({ state: 'look', what: 'made opaque', why: 'The slot keeps no soft transparency' });
  }
  if (!alpha && slot.layout.alpha === 'full' && usesAlpha(decodeLevel(slot)))
    findings.push({
      state: 'look',
      what: 'no transparency given, the original has some',
      why: 'What was see-through becomes solid',
    });
  const bytes = replacePixels(slot, pixels);
  findings.push(errorOf(slot, pixels));
  return { bytes, findings };
}

function errorOf(slot: WrappedPicture, pixels: Pixels): Finding {
  const back = slot.layout.decode(slot.layout.encode(pixels), slot.width, slot.height);
  const error = psnr(pixels, back, slot.layout.alpha === 'full');
  const measured = error === Infinity ? 'nothing lost' : `${error.toFixed(1)} dB`;
  return {
    state: error < GOOD_PSNR ? 'look' : 'fits',
    what: `${slot.layout.title}, ${slot.width} x ${slot.height}, ${slot.levels} levels, ${measured}`,
    why:
      error < GOOD_PSNR
        ? 'The block codec loses visible detail in this picture'
        : 'Encoded as the slot has it',
  };
}

function opaque(pixels: Pixels): Pixels {
  const data = pixels.data.slice();
  for (let i = 3; i < data.length; i += 4) data[i] = 255;
  return { ...pixels, data };
}
