import { z } from 'zod';

/** JSON in a query; `usual` where it is not given. */
export const jsonText = (usual: string) =>
  z
    .string()
    .max(1 << 16)
    .default(usual)
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'has to be JSON' });
        return z.NEVER;
      }
    });
