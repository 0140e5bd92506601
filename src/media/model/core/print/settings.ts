import { z } from 'zod';

const millimetres = z.number().finite().min(0).max(100_000);

/** How a model is to be printed. Everything has a usual value, so that `{}` is an order as well. */
export const PrintSettings = z.object({
  /** How much of its size in the game; or how long its longest side, or how high it is to be, in millimetres. */
  size: z
    .discriminatedUnion('by', [
      z.object({ by: z.literal('scale'), scale: z.number().positive().max(1000) }),
      z.object({ by: z.literal('longest'), longest: z.number().positive().max(100_000) }),
      z.object({ by: z.literal('height'), height: z.number().positive().max(100_000) }),
    ])
    .default({ by: 'longest', longest: 180 }),
  /** Names of parts that are left out. */
  left: z.array(z.string().max(500)).max(10_000).default([]),
  /** Mends, each refusable. Vertices nearer than this become one; null leaves them. */
  weld: millimetres.nullable().default(0.01),
  turn: z.boolean().default(true),
  /** Flaps on edges of more than two triangles, and shells that enclose nothing. */
  drop: z.boolean().default(true),
  close: z.boolean().default(true),
  /** Shells that stand in each other become one. */
  join: z.boolean().default(true),
  /** Walls thinner than this are pointed out. */
  wall: z.number().positive().max(1000).default(0.8),
  /** What the printer has room for. */
  bed: z
    .object({
      x: z.number().positive().max(100_000),
      y: z.number().positive().max(100_000),
      z: z.number().positive().max(100_000),
    })
    .default({ x: 220, y: 220, z: 250 }),
  /** Cut where it is too large for the bed, at heights of one's own, or not at all. */
  cuts: z
    .discriminatedUnion('by', [
      z.object({ by: z.literal('none') }),
      z.object({ by: z.literal('bed') }),
      z.object({
        by: z.literal('planes'),
        planes: z.array(z.object({ axis: z.enum(['x', 'y', 'z']), at: z.number().finite() })).max(20),
      }),
    ])
    .default({ by: 'none' }),
  /** Pegs between pieces: how thick, and how much room the hole leaves around it; null for none. */
  pegs: z
    .object({ across: z.number().positive().max(100), room: z.number().min(0).max(5) })
    .nullable()
    .default(null),
  /** Each piece on its largest flat side. */
  isFlat: z.boolean().default(true),
});

export type PrintSettings = z.infer<typeof PrintSettings>;
export type PrintSettingsGiven = z.input<typeof PrintSettings>;
