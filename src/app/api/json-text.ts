import { z } from 'zod';

/** JSON in a query; `{}` where it is not given. */
export const jsonText = z
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
  });
