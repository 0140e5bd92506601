import type { Archive } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { asText, bare, isTextual } from '@/core/script';

const MOST_LENGTH = 200;

/** What a script says that a file of its format tells of itself (section `tells`); a field that cannot be worked out is left out. */
export function tellsOf({ script, context, entries }: Archive): (readonly [string, string])[] {
  return script.tells.flatMap(({ title, value }) => {
    try {
      const found = bare(value.run(context, entries[0]?.row));
      if (typeof found === 'number' || typeof found === 'bigint' || typeof found === 'boolean')
        return [[title, String(found)] as const];
      return isTextual(found) ? [[title, asText(found).slice(0, MOST_LENGTH)] as const] : [];
    } catch (error) {
      // What is only shown must not keep the rest from being shown.
      if (!(error instanceof FormatError)) throw error;
      return [];
    }
  });
}
