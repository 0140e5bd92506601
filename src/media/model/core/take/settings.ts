import { z } from 'zod';

/** What a channel of a grey map is. */
export const GREY_USES = ['none', 'roughness', 'metal', 'shade'] as const;
export type GreyUse = (typeof GREY_USES)[number];

const Channel = z.object({ is: z.enum(GREY_USES), inverted: z.boolean().default(false) });

/** How a game packs its grey maps; a channel that is not said is left out. */
export const Greys = z.object({ red: Channel, green: Channel, blue: Channel, alpha: Channel }).partial();
export type Greys = z.infer<typeof Greys>;

export const TAKE_ENDINGS = ['glb', 'gltf', 'obj', 'ply', 'stl', '3mf'] as const;

/** What of a model is taken out. Everything has a usual value, so that `{}` is all of it as GLB. */
export const TakeSettings = z.object({
  as: z.enum(TAKE_ENDINGS).default('glb'),
  /** What the file is called; like the model where it is empty. */
  called: z.string().max(120).default(''),
  /** Names of parts, and of materials whose parts, that are left out. */
  left: z.array(z.string().max(500)).max(10_000).default([]),
  leftMaterials: z.array(z.string().max(500)).max(1000).default([]),
  /** The finest level of detail alone. */
  finest: z.boolean().default(false),
  /** Names of clips; null for all. */
  clips: z.array(z.string().max(500)).max(10_000).nullable().default(null),
  /** Keys that others make up for are left out: places may lie so many millimetres off, turns so many degrees. */
  thin: z
    .object({ place: z.number().positive().max(10_000), turn: z.number().positive().max(45) })
    .nullable()
    .default(null),
  greys: Greys.default({}),
});
export type TakeSettings = z.infer<typeof TakeSettings>;
