import { describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { bornOf, hasEnded, newIdentity } from './identity';

describe('who a worker is', () => {
  test('one of this place has ended once its process has, also where the number is used again', async () => {
    const me = newIdentity(2);
    expect(hasEnded(me, me)).toBe(false);
    const child = spawn('sleep', ['60']);
    const other = { ...me, pid: child.pid!, born: bornOf(child.pid!) };
    expect(other.born).not.toBe('');
    expect(hasEnded(other, me)).toBe(false);
    expect(hasEnded({ ...other, born: `${Number(other.born) - 1}` }, me)).toBe(true);
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await ended;
    expect(hasEnded(other, me)).toBe(true);
  });

  test('of another place only its silence tells', () => {
    const me = newIdentity(2);
    expect(hasEnded({ ...me, place: 'elsewhere', pid: 2 ** 22, born: '5' }, me)).toBe(false);
  });
});
