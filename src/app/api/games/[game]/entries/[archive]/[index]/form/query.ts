import { z } from 'zod';
import { jsonText } from '@/app/api/json-text';
import { TakeSettings } from '@/media/model/core/take';

/** What is taken out, as JSON, and the entry whose clips go along, as `archive:index`. */
export const TakeQuery = z.object({
  settings: jsonText('{}').pipe(TakeSettings),
  clips: z
    .string()
    .regex(/^\d{1,9}:\d{1,9}$/)
    .transform((text) => {
      const [archiveId, index] = text.split(':').map(Number);
      return { archiveId: archiveId!, index: index! };
    })
    .optional(),
});
