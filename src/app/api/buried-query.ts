import { z } from 'zod';
import { Id, Index } from './route-kit';

/** Where a buried picture lies, as a query says it. */
export const BuriedQuery = z.object({
  mod: Id.optional(),
  offset: Index,
  layout: z.string().max(40),
  width: z.coerce.number().int().min(1).max(16384).default(1),
  height: z.coerce.number().int().min(1).max(16384).default(1),
  levels: z.coerce.number().int().min(1).max(16).default(1),
  length: Index.default(0),
});
