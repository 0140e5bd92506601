import { collect, FormatError, refOfBytes, type BytesRef } from '@/core/bytes';
import type { Beside } from '@/media/picture/core/texture';
import { withBeside, type Described, type MediaScripts } from '../media-scripts';

/** Something that is to be converted: its plain bytes with the path it is known by. */
export interface ToConvert {
  readonly plain: BytesRef;
  readonly path: string;
  /** What else lies where it is from, and what its archive says of it. */
  readonly beside?: Beside;
  readonly described?: (() => Described | undefined) | undefined;
}

/** What a conversion may need besides the bytes. */
export interface ConvertContext {
  readonly mediaScripts: MediaScripts;
  /** Throws where it is to end. */
  readonly check: () => void;
}

/** One way to change the plain bytes of entries. */
export interface Converter {
  /** Ending of the file, with its point; undefined where it keeps its own. */
  readonly ending: string | undefined;
  /** So many are converted at a time, since some ways cost more to begin than to go through. */
  readonly together: number;
  /**
   * Converts some, and hands each over in its order: its bytes, good until `done` returns, or why it could not be converted. Throws
   * only for what concerns all of them.
   */
  convert(
    items: readonly ToConvert[],
    context: ConvertContext,
    done: (index: number, result: BytesRef | FormatError) => void,
  ): Promise<void>;
}

/** What is converted in memory has to fit there. */
const MOST_BYTES = 64 << 20;

/** A way that takes one after the other in memory. */
export function inMemory(
  ending: string | undefined,
  convert: (bytes: Uint8Array, path: string, context: ConvertContext) => Uint8Array | Promise<Uint8Array>,
): Converter {
  return {
    ending,
    together: 1,
    async convert(items, context, done) {
      for (const [i, { plain, path, beside, described }] of items.entries()) {
        let result: BytesRef | FormatError;
        try {
          if (plain.length > MOST_BYTES)
            throw new FormatError('budget', {
              file: path,
              expected: `at most ${MOST_BYTES / 2 ** 20} MB to be converted`,
              actual: `${plain.length} bytes`,
              remedy: 'Take it as it is stored',
            });
          const bytes = collect(plain);
          if (beside) withBeside(bytes, beside, described);
          result = refOfBytes(new Uint8Array(await convert(bytes, path, context)));
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          result = error;
        }
        done(i, result);
      }
    },
  };
}
