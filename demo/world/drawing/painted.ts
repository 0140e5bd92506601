import sharp, { type Sharp } from 'sharp';

const DRAWINGS = { operation: ['VipsForeignLoadSvg'] };
let painting = 0;

/**
 * A drawing (SVG) as a picture, made into what `finish` says. The application shuts drawings out for the whole of a process, and tests of it may have run in this one; so they are let in for as long as one is
 * painted, and no longer.
 */
export async function painted<T>(svg: string, finish: (picture: Sharp) => Promise<T>): Promise<T> {
  if (painting++ === 0) sharp.unblock(DRAWINGS);
  try {
    return await finish(sharp(Buffer.from(svg)));
  } finally {
    if (--painting === 0) sharp.block(DRAWINGS);
  }
}
