/** An IVF film of pictures with these texts, so many a second (the container of the WebM project, little-endian). */
export function ivfOf(pictures: readonly string[], rate: number, times?: readonly number[]): Uint8Array {
  const head = Buffer.alloc(32);
  head.write('DKIF');
  head.writeUInt16LE(32, 6);
  head.write('VP80', 8);
  head.writeUInt16LE(64, 12);
  head.writeUInt16LE(32, 14);
  head.writeUInt32LE(rate, 16);
  head.writeUInt32LE(1, 20);
  head.writeUInt32LE(pictures.length, 24);
  const own = pictures.map((text, i) => {
    const data = Buffer.from(text);
    const picture = Buffer.alloc(12);
    picture.writeUInt32LE(data.length, 0);
    picture.writeBigUInt64LE(BigInt(times?.[i] ?? i), 4);
    return Buffer.concat([picture, data]);
  });
  return new Uint8Array(Buffer.concat([head, ...own]));
}

/** Pages of an Ogg stream of Opus (RFC 3533, RFC 7845) that last so many seconds each, behind that with its head; `time` in thousandths of a second. */
export function oggOf(seconds: readonly number[]): { time: number; data: Uint8Array }[] {
  let position = 0;
  const head = Buffer.concat([Buffer.from('OpusHead\x01\x01', 'latin1'), Buffer.alloc(9)]);
  const page = (body: Buffer): { time: number; data: Uint8Array } => {
    const begin = Buffer.alloc(28);
    begin.write('OggS');
    begin.writeBigInt64LE(BigInt(position), 6);
    begin.writeUInt8(1, 26);
    begin.writeUInt8(body.length, 27);
    return { time: 0, data: Buffer.concat([begin, body]) };
  };
  const pages = [page(head)];
  for (const [i, length] of seconds.entries()) {
    const time = Math.round(position / 48);
    position += Math.round(48_000 * length);
    pages.push({ ...page(Buffer.from(`page ${i}`)), time });
  }
  return pages;
}
