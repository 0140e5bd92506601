import { openArchive } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import { asCount, type Script } from '@/core/script';
import type { FontSigns } from './font-signs';

const MOST_CODE = 0x10ffff;

/** A font of a game's own, which a script with a section for fonts describes: each entry is a sign. Throws FormatError where its bytes are not as the script says. */
export function describedFont(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): FontSigns {
  const of = script.font;
  if (!of) throw new FormatError('script-wrong', { expected: "a section 'font'", actual: 'none' });
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const widths = new Map<number, number>();
  for (const entry of archive.entries) {
    if (entry.problem) throw entry.problem;
    const code = asCount(of.sign.run(archive.context, entry.row));
    if (code > MOST_CODE)
      throw new FormatError('bad-value', {
        ...{ file: name, fieldPath: `${entry.path}, font.sign`, byteOffset: entry.offset },
        ...{ expected: `a code point, at most ${MOST_CODE}`, actual: String(code) },
      });
    widths.set(code, of.width ? asCount(of.width.run(archive.context, entry.row)) : 1);
  }
  return { form: script.title, name: '', widths };
}
