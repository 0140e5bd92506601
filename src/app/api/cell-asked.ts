import { z } from 'zod';
import { Index } from './route-kit';

/** A value that is asked for in a cell of a table. */
export const CellBody = z.object({
  table: z.string().max(4000),
  row: Index,
  column: z.string().max(4000),
  within: z
    .array(z.union([z.string().max(4000), z.number().int().nonnegative()]))
    .max(20)
    .default([]),
  text: z.string().max(1 << 20),
  was: z.string().max(1 << 21),
  /** Written although something is wrong. */
  isDespite: z.boolean().default(false),
});
