/** Signs that paths are made of; a backslash is a slash. */
const IS_PATH = new Uint8Array(256);
for (const sign of 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-./\\+@~')
  IS_PATH[sign.charCodeAt(0)] = 1;
const [SLASH, BACKSLASH, DOT] = [47, 92, 46];

const LEAST = 4;
const MOST = 240;
const decoder = new TextDecoder('latin1');

/**
 * Strings in bytes that look like paths: runs of signs that paths are made of, with a slash or a dot before an ending in
 * them. They are given with slashes, without what cannot be part of a path at either end. Those in UTF-16 with a zero
 * behind each sign (little-endian) are found too.
 */
export function* pathStrings(bytes: Uint8Array): Generator<string> {
  for (const stride of [1, 2]) {
    for (let phase = 0; phase < stride; phase++) {
      let from = -1;
      let marks = 0;
      const end = bytes.length;
      for (let at = phase; at <= end; at += stride) {
        const byte = at < end ? bytes[at]! : 0;
        const isSign = IS_PATH[byte] === 1 && (stride === 1 || bytes[at + 1] === 0);
        if (isSign) {
          if (from < 0) {
            from = at;
            marks = 0;
          }
          if (byte === SLASH || byte === BACKSLASH || byte === DOT) marks++;
          continue;
        }
        if (from >= 0 && marks > 0) {
          const length = (at - from) / stride;
          if (length >= LEAST && length <= MOST) {
            const path = cleaned(textOf(bytes, from, at, stride));
            if (path) yield path;
          }
        }
        from = -1;
      }
    }
  }
}

function textOf(bytes: Uint8Array, from: number, to: number, stride: number): string {
  if (stride === 1) return decoder.decode(bytes.subarray(from, to));
  return decoder.decode(
    Uint8Array.from({ length: (to - from) / stride }, (_, i) => bytes[from + i * stride]!),
  );
}

function cleaned(text: string): string | undefined {
  const path = text
    .replaceAll('\\', '/')
    .replace(/^[./~@+-]+|[./~@+-]+$/g, '')
    .replace(/\/{2,}/g, '/');
  return path.length >= LEAST && /[a-z]/i.test(path) && /\/|\.[a-z0-9]{1,8}$/i.test(path) ? path : undefined;
}
