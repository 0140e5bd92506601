import zlib from 'node:zlib';
import { unblock, type Picture } from '../common/picture';
import { Stall } from '../common/stall';

const LAYOUTS = [
  '',
  'four bytes a texel',
  'blocks of 8 bytes',
  'blocks of 16 bytes',
  'blocks of 16 bytes, of the new kind',
];

/** Bytes that one level takes. */
function levelBytes(layout: number, width: number, height: number): number {
  if (layout === 1) return width * height * 4;
  return Math.ceil(width / 4) * Math.ceil(height / 4) * (layout === 2 ? 8 : 16);
}

/** Reads the largest level of a sheet as the engine would give it to the screen. */
export function readSheet(bytes: Buffer, what: string): Picture {
  if (bytes.length < 32 || bytes.toString('latin1', 0, 6) !== 'SHEET\0')
    throw new Stall(what, 'sheet tag', 'this is no sheet');
  const layout = bytes[6]!;
  const levels = bytes[7]!;
  const width = bytes.readUInt16LE(8);
  const height = bytes.readUInt16LE(10);
  if (!LAYOUTS[layout]) throw new Stall(what, 'sheet layout', `layout ${layout} is none that the engine has`);
  if (width === 0 || height === 0) throw new Stall(what, 'sheet size', `${width} by ${height}`);
  const body = bytes.subarray(32);
  if (bytes.readUInt32LE(12) !== body.length)
    throw new Stall(what, 'sheet length', `${body.length} bytes follow, not ${bytes.readUInt32LE(12)}`);
  if (bytes.readUInt32LE(16) !== zlib.crc32(body))
    throw new Stall(what, 'sheet check', 'the pixels do not check');
  let wanted = 0;
  for (let i = 0; i < levels; i++)
    wanted += levelBytes(layout, Math.max(1, width >> i), Math.max(1, height >> i));
  if (wanted !== body.length)
    throw new Stall(
      what,
      'sheet levels',
      `${levels} levels of ${LAYOUTS[layout]} need ${wanted} bytes, there are ${body.length}`,
    );
  return {
    width,
    height,
    layout,
    rgba:
      layout === 1 ? Buffer.from(body.subarray(0, width * height * 4)) : unblock(body, layout, width, height),
  };
}
