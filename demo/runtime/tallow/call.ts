import { codesToWave } from '../common/ima';
import { Stall } from '../common/stall';

/** A call as a wave file of 16 bits. */
export function callToWave(bytes: Buffer, what: string): Buffer {
  if (bytes.length < 24 || bytes.toString('latin1', 0, 4) !== 'CALL')
    throw new Stall(what, 'call tag', 'this is no call');
  const isNear = bytes[4] === 0;
  const rate = bytes.readUInt16BE(6);
  const count = bytes.readUInt32BE(8);
  const data = bytes.subarray(24);
  if (bytes.readUInt32BE(12) !== data.length)
    throw new Stall(what, 'call size', 'the head does not agree with the file');
  const sum = data.reduce((all, byte) => (all + byte) >>> 0, 0);
  if (bytes.readUInt32BE(20) !== sum) throw new Stall(what, 'call check', 'the bytes do not check');
  if (count > data.length * 2) throw new Stall(what, 'call samples', `${count} in ${data.length} bytes`);
  return codesToWave({ data, count, first: isNear ? bytes.readInt16BE(16) : 0, lowFirst: isNear, rate });
}
