import type { PackedClip, PackedPart } from '../../core/view/pack';

/** Shapes that are shown one after the other, so many a second. */
export interface ShapeFrames {
  readonly first: number;
  readonly count: number;
  readonly rate: number;
}

/** The shapes that a clip goes through; undefined where it moves bones. */
export const framesIn = (clip: PackedClip | undefined): ShapeFrames | undefined =>
  clip?.frames && clip.rate > 0 && clip.frames.count > 0 ? { ...clip.frames, rate: clip.rate } : undefined;

/** How much of each of a part's shapes there is, 0 to 1: at a moment of a clip, or as it was set by hand. Between two frames there is some of both. */
export function shapeShares(
  { shapes }: Pick<PackedPart, 'shapes'>,
  frames: ShapeFrames | undefined,
  seconds: number,
  byHand: Readonly<Record<string, number>>,
): readonly number[] {
  if (!frames) return shapes.map(({ name }) => byHand[name] ?? 0);
  const out = shapes.map(() => 0);
  const at = Math.min(Math.max(0, seconds * frames.rate), frames.count - 1);
  const [before, part] = [Math.floor(at), at - Math.floor(at)];
  if (frames.first + before < out.length) out[frames.first + before] = 1 - part;
  if (part > 0 && frames.first + before + 1 < out.length) out[frames.first + before + 1] = part;
  return out;
}
