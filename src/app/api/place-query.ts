import { z } from 'zod';
import { Index } from './route-kit';

/** Which image of a picture is asked for. */
export const PlaceQuery = z.object({
  level: Index.default(0),
  layer: Index.default(0),
  face: Index.default(0),
  slice: Index.default(0),
});

/** A part of an image, as `x,y,width,height`. */
export const PartQuery = z
  .string()
  .regex(/^\d{1,5},\d{1,5},[1-9]\d{0,4},[1-9]\d{0,4}$/)
  .optional()
  .transform((text) => {
    if (text === undefined) return undefined;
    const [x = 0, y = 0, width = 1, height = 1] = text.split(',').map(Number);
    return { x, y, width, height };
  });
