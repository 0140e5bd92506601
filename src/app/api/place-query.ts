import { z } from 'zod';
import { Index } from './route-kit';

/** Which image of a picture is asked for. */
export const PlaceQuery = z.object({
  level: Index.default(0),
  layer: Index.default(0),
  face: Index.default(0),
  slice: Index.default(0),
});
