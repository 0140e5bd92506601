/** Lower-case hexadecimal, two digits a byte. */
export function toHex(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes) text += byte.toString(16).padStart(2, '0');
  return text;
}

/** Bytes from hexadecimal digits, or undefined when the text is anything else. */
export function fromHex(text: string): Uint8Array | undefined {
  if (text.length % 2 !== 0 || !/^[0-9a-fA-F]*$/.test(text)) return undefined;
  const bytes = new Uint8Array(text.length / 2);
  for (let i = 0; i < bytes.length; i++) bytes[i] = Number.parseInt(text.slice(2 * i, 2 * i + 2), 16);
  return bytes;
}

/** A 64-bit value as 16 hexadecimal digits. */
export function hexOf64(value: number | bigint): string {
  return BigInt.asUintN(64, BigInt(value)).toString(16).padStart(16, '0');
}

/**
 * Bytes from any common spelling of a key: hexadecimal with or without `0x`, spaces, colons, commas or
 * dashes, or base64. Undefined where it is none of these.
 */
export function spelledBytes(text: string): Uint8Array | undefined {
  const bare = text.trim().replace(/^["']|["']$/g, '');
  const digits = bare.replace(/0x/gi, '').replace(/[\s:,;-]/g, '');
  if (digits.length > 0) {
    const hex = fromHex(digits);
    if (hex) return hex;
  }
  if (!/^[A-Za-z0-9+/_-]{8,}={0,2}$/.test(bare)) return undefined;
  const decoded = fromBase64(bare.replace(/-/g, '+').replace(/_/g, '/').replace(/=+$/, ''));
  // Almost any long word is base64; only what gives the length of a usual key is taken for one.
  return decoded && [16, 24, 32, 64].includes(decoded.length) ? decoded : undefined;
}

const BASE64 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

function fromBase64(text: string): Uint8Array | undefined {
  if (text.length % 4 === 1) return undefined;
  const bytes = new Uint8Array(Math.floor((text.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (const sign of text) {
    const value = BASE64.indexOf(sign);
    if (value < 0) return undefined;
    bits = ((bits << 6) | value) & 0xffffff;
    held += 6;
    if (held >= 8) {
      held -= 8;
      bytes[at++] = (bits >> held) & 0xff;
    }
  }
  return bytes;
}
