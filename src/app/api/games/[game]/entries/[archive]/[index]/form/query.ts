import { z } from 'zod';
import { jsonText } from '@/app/api/json-text';
import { TakeSettings } from '@/media/model/core/take';

/** Where an entry is, as `archive:index`. */
const Place = z
  .string()
  .regex(/^\d{1,9}:\d{1,9}$/)
  .transform((text) => {
    const [archiveId, index] = text.split(':').map(Number);
    return { archiveId: archiveId!, index: index! };
  });

/** What is taken out, as JSON, and the entry whose clips go along. */
export const TakeQuery = z.object({
  settings: jsonText('{}').pipe(TakeSettings),
  clips: Place.optional(),
  /** Pictures that were put on by hand, by the paths that they are in the place of. */
  worn: jsonText('{}').pipe(z.record(z.string().max(4096), Place)),
});
