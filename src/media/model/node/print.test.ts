import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { mediaScriptsOn } from '@/platform/node/media-scripts';
import { readShelf } from '@/platform/node/script-shelf';
import { writeForm } from '../../../../demo/world/forms/form-writer';
import { heron } from '../../../../demo/world/forms/heron';
import { boathook } from '../../../../demo/world/forms/props';
import { unpackForm } from '../core';
import type { ToldOfPrint } from '../core/print';
import { PrintSettings, type PrintSettingsGiven } from '../core/print/settings';
import { packedPrint, printFile, type PrintFile } from './print';

/** What is printed, seen by programs of others: admesh for STL, assimp for 3MF. */

const scripts = mediaScriptsOn(readShelf());
const hook = writeForm(boathook(true));
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-print-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

const settings = (given: PrintSettingsGiven): PrintSettings => PrintSettings.parse(given);
const CUT: PrintSettingsGiven = {
  size: { by: 'longest', longest: 600 },
  cuts: { by: 'bed' },
  pegs: { across: 5, room: 0.15 },
};

async function made(as: PrintFile, given: PrintSettingsGiven, bytes: Uint8Array = hook): Promise<string> {
  const file = await printFile(bytes, 'a/boathook_fine.form', settings(given), as, scripts);
  const at = path.join(folder, `made.${file.ending}`);
  fs.writeFileSync(at, file.bytes);
  return at;
}

/** What admesh counts before it mends anything. */
function seenBy(stl: string): { loose: number; volume: number } {
  const said = execFileSync('admesh', ['--no-check', stl]).toString();
  const checked = execFileSync('admesh', ['--exact', stl]).toString();
  const counted = (name: string, text: string): number =>
    Number(new RegExp(`${name}\\s*:\\s*(-?[\\d.]+)`).exec(text)?.[1]);
  return {
    loose: counted('Total disconnected facets', checked),
    volume: counted('Volume', said),
  };
}

test('the boathook as its maker left it is mended, and another program finds it closed', async () => {
  const stl = await made('stl', { size: { by: 'longest', longest: 300 } });
  const seen = seenBy(stl);
  expect(seen).toMatchObject({ loose: 0 });
  const packed = await packedPrint(
    hook,
    'boathook_fine.form',
    settings({ size: { by: 'longest', longest: 300 } }),
    scripts,
  );
  const { report } = unpackForm(packed.buffer).form.told as ToldOfPrint;
  expect(report.found).toMatchObject({ shellCount: 5, isWatertight: false });
  expect(report.found.holeCount).toBe(4);
  expect(report.mended).toMatchObject({ shellCount: 1, crossings: 0, isWatertight: true });
  expect(report.mends).toMatchObject({ scraps: 1, closedHoles: 3 });
  expect(Math.abs(seen.volume - report.pieces[0]!.volume)).toBeLessThan(0.01 * seen.volume);
  // Refused, it is found open by both.
  const open = await made('stl', {
    close: false,
    join: false,
    drop: false,
    size: { by: 'longest', longest: 300 },
  });
  expect(seenBy(open).loose).toBeGreaterThan(0);
});

test('pieces with pegs: each closed, together in a ZIP of STLs and in one 3MF', async () => {
  const zip = await made('stl', CUT);
  expect(zip.endsWith('.zip')).toBe(true);
  execFileSync('unzip', ['-q', '-o', zip, '-d', folder]);
  const names = fs
    .readdirSync(folder)
    .filter((name) => /^boathook_fine \d\.stl$/.test(name))
    .sort();
  expect(names).toEqual(['boathook_fine 1.stl', 'boathook_fine 2.stl', 'boathook_fine 3.stl']);
  for (const name of names) expect(seenBy(path.join(folder, name))).toMatchObject({ loose: 0 });
  const told = execFileSync('assimp', ['info', await made('3mf', CUT)]).toString();
  expect(told).toMatch(/Meshes:\s+3/);
});

test('a creature of many shells is closed as well', async () => {
  const stl = await made(
    'stl',
    { size: { by: 'longest', longest: 200 }, left: ['heron_feathers'] },
    writeForm(heron()),
  );
  expect(seenBy(stl).loose).toBe(0);
});

test('nothing to print is refused with what to do', async () => {
  await expect(made('3mf', { left: ['boathook_pole', 'boathook_iron'] })).rejects.toThrow(/nothing is left/);
  await expect(made('3mf', {}, new Uint8Array(20))).rejects.toThrow(/a model as GLB/);
});
