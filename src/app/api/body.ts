import { UserError } from '@/platform/user-error';

/** The text of a request, given up as soon as more than `most` bytes of it have come. Throws UserError 413. */
export async function readText(request: Request, most: number): Promise<string> {
  const tooLarge = (): UserError =>
    new UserError(413, `The request is larger than the ${most} bytes that are taken. Nothing was changed.`);
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge();
  if (!request.body) return '';
  const reader = request.body.getReader();
  const decoder = new TextDecoder();
  const parts: string[] = [];
  let size = 0;
  for (;;) {
    const { done, value } = (await reader.read()) as { done: boolean; value?: Uint8Array };
    if (done) return parts.join('') + decoder.decode();
    size += value!.length;
    if (size > most) {
      await reader.cancel();
      throw tooLarge();
    }
    parts.push(decoder.decode(value, { stream: true }));
  }
}

/**
 * What came in, when every text in it can be kept: neither the database nor the disk takes a character NUL or half of a surrogate pair.
 * Throws UserError 400 with the place of the first that cannot. `mayHoldNul` is for texts in which it parts lines and that are taken apart
 * before they are kept.
 */
export function wholeTexts<T>(value: T, mayHoldNul = false): T {
  const waiting: [path: string, value: unknown][] = [['', value]];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [path, one] = next;
    if (typeof one === 'string') requireWhole(path, one, mayHoldNul);
    else if (typeof one === 'object' && one !== null)
      for (const [key, inner] of Object.entries(one)) {
        requireWhole(path, key, mayHoldNul);
        waiting.push([path === '' ? key : `${path}.${key}`, inner]);
      }
  }
  return value;
}

function requireWhole(path: string, text: string, mayHoldNul: boolean): void {
  const at = mayHoldNul ? -1 : text.indexOf('\0');
  const what = at >= 0 ? 'the character NUL' : text.isWellFormed() ? undefined : 'half of a character';
  if (what !== undefined)
    throw new UserError(
      400,
      `${path || 'request'}: the text holds ${what}${at >= 0 ? ` at ${at}` : ''}, which cannot be kept. Nothing was changed.`,
    );
}
