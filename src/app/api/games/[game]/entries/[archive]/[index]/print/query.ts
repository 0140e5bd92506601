import { z } from 'zod';
import { PrintSettings } from '@/media/model/core/print/settings';

/** How it is to be printed, as JSON. */
export const PrintQuery = z.object({
  settings: z
    .string()
    .max(1 << 16)
    .default('{}')
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'settings as JSON' });
        return z.NEVER;
      }
    })
    .pipe(PrintSettings),
});
