import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mixChanges, type MixedChange } from './mix';

const change = (modId: number, path: string, more: Partial<MixedChange> = {}): MixedChange => ({
  ...{ modId, path, archivePath: 'a.hold', entryIndex: 0, content: `${modId}` },
  ...more,
});

describe('several mods together', () => {
  test('the last one has its way, unless another is chosen', () => {
    const changes = [change(1, 'ui/Lamp.sheet'), change(2, 'ui/lamp.sheet')];
    expect(mixChanges(changes, [1, 2])).toEqual({
      taken: [changes[1]],
      conflicts: [{ path: 'ui/Lamp.sheet', mods: [1, 2], taken: 2, by: 'order' }],
    });
    expect(mixChanges(changes, [2, 1]).taken).toEqual([changes[0]]);
    expect(mixChanges(changes, [1, 2], new Map([['ui/lamp.sheet', 1]]))).toMatchObject({
      taken: [changes[0]],
      conflicts: [{ taken: 1, by: 'choice' }],
    });
    // One that was chosen, and is no longer among them, does not count.
    expect(mixChanges(changes, [1, 2], new Map([['ui/lamp.sheet', 7]])).conflicts[0]!.by).toBe('order');
  });

  test('the same path in two archives is one conflict, and all of it comes from one mod', () => {
    const changes = [
      change(1, 'x', { archivePath: 'a.hold' }),
      change(1, 'x', { archivePath: 'b.hold' }),
      change(2, 'x', { archivePath: 'b.hold' }),
    ];
    const { taken, conflicts } = mixChanges(changes, [2, 1]);
    expect(taken).toEqual([changes[0], changes[1]]);
    expect(conflicts).toHaveLength(1);
  });

  test('an entry whose name one of them did not know yet is the same entry', () => {
    const changes = [change(1, 'unnamed/17'), change(2, 'ui/lamp.sheet')];
    expect(mixChanges(changes, [1, 2])).toMatchObject({
      taken: [{ modId: 2 }],
      conflicts: [{ mods: [1, 2] }],
    });
  });

  test('equal changes are no conflict, and mods that are not asked for do not count', () => {
    const changes = [
      change(1, 'x', { content: 'same' }),
      change(2, 'x', { content: 'same' }),
      change(3, 'x'),
    ];
    expect(mixChanges(changes, [1, 2])).toEqual({ taken: [changes[1]], conflicts: [] });
  });

  test('no entry is changed twice, none is lost, and only conflicts depend on the order', () => {
    const one = fc.record({
      modId: fc.integer({ min: 1, max: 3 }),
      path: fc.constantFrom('a', 'A', 'b', 'c'),
      archivePath: fc.constantFrom('x', 'y'),
      entryIndex: fc.integer({ min: 0, max: 3 }),
      content: fc.constantFrom('1', '2'),
    });
    const slot = ({ archivePath, entryIndex }: MixedChange): string => `${archivePath} ${entryIndex}`;
    const changes = fc.uniqueArray(one, { selector: (each) => `${each.modId} ${slot(each)}` });
    fc.assert(
      fc.property(changes, (given) => {
        const { taken, conflicts } = mixChanges(given, [1, 2, 3]);
        const slots = taken.map(slot);
        expect(new Set(slots).size).toBe(slots.length);
        const turned = mixChanges(given, [3, 2, 1]);
        expect(turned.conflicts.map(({ path }) => path)).toEqual(conflicts.map(({ path }) => path));
        if (conflicts.length === 0)
          expect(new Set(turned.taken.map((each) => slot(each) + each.content))).toEqual(
            new Set(taken.map((each) => slot(each) + each.content)),
          );
      }),
    );
  });
});
