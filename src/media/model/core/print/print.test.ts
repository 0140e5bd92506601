import fc from 'fast-check';
import { expect, test } from '@jest/globals';
import type { Form, Part } from '../form/form';
import { formOfPrint } from './drawn';
import { edgesOf, patchesOf, shellsOf } from './edges';
import { close, loopsOf } from './holes';
import { findingsOf } from './findings';
import { orient } from './orient';
import { printOf, wholeSolid } from './print';
import { repair } from './repair';
import { PrintSettings, type PrintSettingsGiven } from './settings';
import { solidOf, surfaceOf, trianglesIn, volumeOf, type Solid } from './solid';
import { threeMfFiles } from './three-mf';
import { weld } from './weld';

type Triple = readonly [number, number, number];

/** A box from corner to corner, of 12 triangles that look outwards. */
function box(low: Triple, high: Triple): Solid {
  const places = Float64Array.from(
    Array.from({ length: 8 }, (_, i) => [
      i & 1 ? high[0] : low[0],
      i & 2 ? high[1] : low[1],
      i & 4 ? high[2] : low[2],
    ]).flat(),
  );
  const sides = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return {
    places,
    corners: Uint32Array.from(sides.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!])),
  };
}

function both(...solids: readonly Solid[]): Solid {
  const places: number[] = [];
  const corners: number[] = [];
  for (const solid of solids) {
    const first = places.length / 3;
    places.push(...solid.places);
    corners.push(...[...solid.corners].map((vertex) => first + vertex));
  }
  return { places: Float64Array.from(places), corners: Uint32Array.from(corners) };
}

/** With its triangles given other corners: those of the numbers named are left out, turned over or there twice. */
const without = (solid: Solid, ...left: readonly number[]): Solid => ({
  places: solid.places,
  corners: solid.corners.filter((_, corner) => !left.includes(Math.floor(corner / 3))),
});
function turned(solid: Solid, ...which: readonly number[]): Solid {
  const corners = solid.corners.slice();
  for (const triangle of which) corners.subarray(3 * triangle, 3 * triangle + 3).reverse();
  return { places: solid.places, corners };
}
/** As files without shared vertices keep it: three for each triangle. */
const apart = ({ places, corners }: Solid): Solid => ({
  places: Float64Array.from(
    [...corners].flatMap((vertex) => [...places.subarray(3 * vertex, 3 * vertex + 3)]),
  ),
  corners: Uint32Array.from({ length: corners.length }, (_, i) => i),
});

const WALL = 0.8;
const cube = box([0, 0, 0], [10, 20, 30]);
const found = (solid: Solid) => findingsOf(solid, WALL).findings;
const mended = (solid: Solid, settings: PrintSettingsGiven = {}) =>
  repair(solid, PrintSettings.parse(settings));

/** In metres with y up, as models are. */
const partOf = (name: string, { places, corners }: Solid, level = 0): Part => ({
  ...{ name, level, material: -1, coordinates: [], morphs: [] },
  places: Float32Array.from({ length: places.length }, (_, i) => {
    const at = i - (i % 3);
    return (i % 3 === 0 ? places[at]! : i % 3 === 1 ? places[at + 2]! : -places[at + 1]!) / 1000;
  }),
  triangles: corners,
});
const formWith = (...parts: readonly Part[]): Form => ({ parts, materials: [], bones: [], clips: [] });
const printed = (solid: Solid, settings: PrintSettingsGiven = {}) =>
  printOf(
    formWith(partOf('thing', solid)),
    'thing.form',
    PrintSettings.parse({ size: { by: 'scale', scale: 1 }, ...settings }),
  );

test('a box is what it is', () => {
  expect(volumeOf(cube)).toBeCloseTo(6000);
  expect(surfaceOf(cube)).toBeCloseTo(2 * (200 + 300 + 600));
  expect(found(cube)).toMatchObject({
    ...{ triangles: 12, vertices: 8, size: [10, 20, 30], shellCount: 1, openEdges: 0, holeCount: 0 },
    ...{ crowdedEdges: 0, turnedEdges: 0, crossings: 0, needles: 0, isWatertight: true },
  });
});

test('each fault is counted, marked and told apart', () => {
  const { findings, marks } = findingsOf(without(cube, 0, 1), WALL);
  expect(findings).toMatchObject({ openEdges: 4, holeCount: 1, isWatertight: false });
  expect(findings.holes).toEqual([{ edges: 4, length: 60 }]);
  expect(marks.holes).toHaveLength(4 * 6);
  expect(found(turned(cube, 3))).toMatchObject({ turnedEdges: 3, openEdges: 0, isWatertight: false });
  const flap: Solid = {
    places: Float64Array.from([...cube.places, -5, -5, 15]),
    corners: Uint32Array.from([...cube.corners, 0, 4, 8]),
  };
  expect(found(flap)).toMatchObject({ crowdedEdges: 1, openEdges: 2, isWatertight: false });
  const crossed = both(cube, box([5, 5, 5], [15, 15, 15]));
  expect(found(crossed)).toMatchObject({ shellCount: 2, isWatertight: true });
  expect(found(crossed).crossings).toBeGreaterThan(0);
  expect(found(both(cube, box([20, 0, 0], [30, 10, 10]))).crossings).toBe(0);
});

test('thin walls are measured', () => {
  expect(found(box([0, 0, 0], [20, 20, 0.5])).thin).toMatchObject({ thin: 4, tried: 12 });
  expect(found(box([0, 0, 0], [20, 20, 0.5])).thin.thinnest).toBeCloseTo(0.5, 3);
  expect(found(box([0, 0, 0], [20, 20, 0.9])).thin.thin).toBe(0);
  // The gap between two boxes is no wall.
  expect(found(both(cube, box([10.3, 0, 0], [20, 20, 30]))).thin.thin).toBe(0);
});

test('vertices weld over the edges of cells, and no farther than said', () => {
  const torn = apart(cube);
  expect(found(torn)).toMatchObject({ shellCount: 12, openEdges: 36 });
  expect(weld(torn, 0)).toMatchObject({ joined: 36 - 8, flat: 0, twice: 0 });
  const shaken: Solid = {
    ...torn,
    places: torn.places.map((value, i) => value + (i % 2 === 0 ? 0.004 : -0.004)),
  };
  expect(found(weld(shaken, 0).solid).openEdges).toBeGreaterThan(0);
  expect(found(weld(shaken, 0.02).solid)).toMatchObject({ openEdges: 0, vertices: 8, isWatertight: true });
  const doubled = both(cube, cube);
  expect(weld(doubled, 0)).toMatchObject({ joined: 8, twice: 12 });
  expect(trianglesIn(weld(doubled, 0).solid)).toBe(12);
});

test('faces are turned outwards, but for those of a hollow', () => {
  expect(volumeOf(orient(turned(cube, 2, 7)).solid)).toBeCloseTo(6000);
  expect(orient(turned(cube, 2, 7)).turned).toBe(2);
  const inside = turned(cube, ...Array.from({ length: 12 }, (_, i) => i));
  expect(volumeOf(inside)).toBeCloseTo(-6000);
  expect(volumeOf(orient(inside).solid)).toBeCloseTo(6000);
  const hollow = turned(box([2, 2, 2], [8, 8, 8]), ...Array.from({ length: 12 }, (_, i) => i));
  const shell = both(cube, hollow);
  expect(orient(shell).turned).toBe(0);
  expect(volumeOf(shell)).toBeCloseTo(6000 - 216);
});

test('holes are closed by lids of their own edge, also where two meet in a vertex', () => {
  const open = without(cube, 0, 1);
  const { solid, added } = close(open, loopsOf(open));
  expect(added).toBe(2);
  expect(volumeOf(solid)).toBeCloseTo(6000);
  expect(found(solid).isWatertight).toBe(true);
  // A triangle of the bottom and one of the top that share no edge, and one that meets the first in a vertex.
  const meeting = without(cube, 0, 4);
  expect(loopsOf(meeting).length).toBeGreaterThan(0);
  const closed = close(meeting, loopsOf(meeting)).solid;
  expect(found(closed)).toMatchObject({ isWatertight: true, openEdges: 0 });
});

test('what mending adds and loses is told, and each step can be refused', () => {
  const alone: Solid = {
    places: Float64Array.from([50, 0, 0, 51, 0, 0, 50, 1, 0]),
    corners: Uint32Array.of(0, 1, 2),
  };
  const broken = both(without(cube, 0, 1), alone);
  const { solid, mends } = mended(broken);
  expect(mends).toMatchObject({ closedHoles: 1, lids: 2, scraps: 1, flaps: 0 });
  expect(mends.lidSurface).toBeCloseTo(200);
  expect(mends.lostSurface).toBeCloseTo(0.5);
  expect(found(solid)).toMatchObject({ triangles: 12, isWatertight: true });
  expect(mended(broken, { close: false }).mends).toMatchObject({ closedHoles: 0, scraps: 0 });
  expect(found(mended(broken, { close: false }).solid).openEdges).toBe(7);
  const kept = mended(broken, { drop: false });
  expect(kept.mends.scraps).toBe(0);
  expect(found(kept.solid).shellCount).toBe(2);
  const flap: Solid = {
    places: Float64Array.from([...cube.places, -5, -5, 15]),
    corners: Uint32Array.from([...cube.corners, 0, 4, 8]),
  };
  expect(mended(flap).mends).toMatchObject({ flaps: 1, closedHoles: 0 });
  expect(found(mended(flap).solid)).toMatchObject({ triangles: 12, isWatertight: true });
  // Nothing wanted, nothing done.
  const asIs = mended(broken, { weld: null, turn: false, drop: false, close: false });
  expect([...asIs.solid.corners]).toHaveLength(broken.corners.length);
});

test('boxes with any triangles missing are closed again', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(11), { maxLength: 6 }), (left) => {
      const { solid } = mended(without(cube, ...left));
      const now = found(solid);
      expect(now.openEdges).toBe(0);
      expect(now.isWatertight || now.triangles === 0).toBe(true);
    }),
    { numRuns: 100 },
  );
});

test('shells that stand in each other become one, and hollows stay', async () => {
  const { report } = await printed(both(cube, box([5, 5, 5], [15, 15, 15])));
  expect(report.joined).toEqual({ from: 2, to: 1 });
  expect(report.found.volume).toBeCloseTo(7000, 0);
  expect(report.mended.volume).toBeCloseTo(6000 + 1000 - 5 * 10 * 10, 0);
  expect(report.mended).toMatchObject({ crossings: 0, shellCount: 1, isWatertight: true });
  const hollow = turned(box([2, 2, 2], [8, 8, 8]), ...Array.from({ length: 12 }, (_, i) => i));
  const kept = await printed(both(cube, hollow));
  expect(kept.report.mended.volume).toBeCloseTo(6000 - 216, 0);
  const refused = await printed(both(cube, box([5, 5, 5], [15, 15, 15])), { join: false });
  expect(refused.report.joined).toBeUndefined();
  expect(refused.report.mended.shellCount).toBe(2);
});

test('size by scale or by the longest side, in millimetres, z up', async () => {
  const { report } = await printed(cube);
  expect(report.scale).toBe(1);
  expect(report.found.size.map((side) => Math.round(side * 1000) / 1000)).toEqual([10, 20, 30]);
  const large = await printed(cube, { size: { by: 'longest', longest: 180 } });
  expect(large.report.scale).toBeCloseTo(6);
  expect(large.report.found.volume).toBeCloseTo(6000 * 216, -1);
  // Height is that of the model as it stands, whatever its longest side is.
  const wide = box([0, 0, 0], [80, 20, 10]);
  const high = await printed(wide, { size: { by: 'height', height: 30 } });
  expect(high.report.scale).toBeCloseTo(3);
  expect(high.report.found.size.map(Math.round)).toEqual([240, 60, 30]);
  const sheet: Solid = {
    places: Float64Array.of(0, 0, 0, 9, 0, 0, 0, 9, 0),
    corners: Uint32Array.of(0, 1, 2),
  };
  const flat = await printed(sheet, { size: { by: 'height', height: 1 } });
  expect(flat.report.refused[0]).toMatch(/^Nothing is left/);
});

test('pieces have room on the bed, hold all of it together, and have pegs and holes', async () => {
  const bed = { x: 100, y: 100, z: 100 };
  const long = box([0, 0, 0], [40, 50, 250]);
  const whole = 40 * 50 * 250;
  const plain = await printed(long, { bed, cuts: { by: 'bed' } });
  expect(plain.report.pieces).toHaveLength(3);
  for (const piece of plain.report.pieces) expect(piece).toMatchObject({ isWatertight: true, hasRoom: true });
  expect(plain.report.pieces.reduce((sum, { volume }) => sum + volume, 0)).toBeCloseTo(whole, -2);
  const pegs = { across: 6, room: 0.2 };
  const pegged = await printed(long, { bed, cuts: { by: 'bed' }, pegs });
  const { pieces } = pegged.report;
  expect(pegged.report).toMatchObject({ pegs: 2 * (pieces.length - 1), withoutPeg: 0 });
  for (const piece of pieces) expect(piece).toMatchObject({ isWatertight: true, hasRoom: true });
  // Each peg adds its cylinder, and each hole takes more than that.
  const peg = Math.PI * 9 * 6 * 1.25;
  const hole = Math.PI * 3.2 ** 2 * (6 * 1.25 + 0.2);
  const sum = pieces.reduce((all, { volume }) => all + volume, 0);
  expect(Math.abs(sum - (whole + pegged.report.pegs * (peg - hole)))).toBeLessThan(
    0.02 * pegged.report.pegs * hole,
  );
  const thin = await printed(box([0, 0, 0], [4, 4, 250]), { bed, cuts: { by: 'bed' }, pegs });
  expect(thin.report).toMatchObject({ pegs: 0, withoutPeg: 2 });
});

test('a piece lies on its largest flat side, and otherwise as it stood', async () => {
  const tall = box([0, 0, 0], [30, 5, 60]);
  const laid = await printed(tall);
  expect(laid.report.pieces[0]!.size.map(Math.round)).toEqual([60, 30, 5]);
  const standing = await printed(tall, { isFlat: false });
  expect(standing.report.pieces[0]!.size.map(Math.round)).toEqual([30, 5, 60]);
  // Where it has no room lying, it stands.
  const narrow = await printed(tall, { bed: { x: 20, y: 40, z: 100 } });
  expect(narrow.report.pieces[0]).toMatchObject({ hasRoom: true });
});

test('cuts along each axis, on request, and what cannot be cut says why', async () => {
  for (const axis of ['x', 'y', 'z'] as const) {
    const { report } = await printed(cube, { cuts: { by: 'planes', planes: [{ axis, at: 4 }] } });
    const volumes = report.pieces.map(({ volume }) => Math.round(volume)).sort((a, b) => a - b);
    const side = { x: 10, y: 20, z: 30 }[axis];
    const parts = [(6000 * 4) / side, (6000 * (side - 4)) / side].sort((a, b) => a - b);
    volumes.forEach((volume, i) => expect(Math.abs(volume - parts[i]!)).toBeLessThan(2));
  }
  const outside = await printed(cube, { cuts: { by: 'planes', planes: [{ axis: 'z', at: 99 }] } });
  expect(outside.report.pieces).toHaveLength(1);
  const open = await printed(without(cube, 0, 1), {
    close: false,
    cuts: { by: 'planes', planes: [{ axis: 'z', at: 9 }] },
  });
  expect(open.report.pieces).toHaveLength(1);
  expect(open.report.pieces[0]!.isWatertight).toBe(false);
  expect(open.report.refused).toEqual([
    'Nothing was cut. It is not closed: mend it first, so that there is an inside',
  ]);
  const many = await printed(cube, { bed: { x: 1, y: 1, z: 1 }, cuts: { by: 'bed' } });
  expect(many.report.refused[0]).toMatch(/^Nothing was cut: that would be [\d,]+ pieces/);
});

test('parts and levels are left out; nothing left says so', async () => {
  const form = formWith(
    partOf('pole', cube),
    partOf('hook', box([20, 0, 0], [30, 10, 10])),
    partOf('pole', box([0, 0, 0], [1, 1, 1]), 1),
  );
  const settings = (left: string[]) => PrintSettings.parse({ left, size: { by: 'scale', scale: 1 } });
  const all = await printOf(form, 'a.form', settings([]));
  expect(all.report).toMatchObject({ parts: ['pole', 'hook'] });
  expect(all.report.found.triangles).toBe(24);
  expect((await printOf(form, 'a.form', settings(['hook']))).report.found.triangles).toBe(12);
  await expect(printOf(form, 'a.form', settings(['hook', 'pole']))).rejects.toThrow(/nothing is left/);
  await expect(printOf(formWith(), 'a.form', settings([]))).rejects.toThrow(/nothing is left/);
  expect(trianglesIn(wholeSolid(form, 'a.form'))).toBe(24);
  expect([...solidOf(form.parts.slice(0, 1), 1).places.slice(0, 3)].map(Math.abs)).toEqual([0, 0, 0]);
});

test('places that are no numbers, or far off, are no end of it', async () => {
  const odd: Solid = {
    places: cube.places.map((value, i) => (i === 3 ? 1e30 : value)),
    corners: cube.corners,
  };
  const { report } = await printed(odd, { cuts: { by: 'bed' } });
  expect(report.pieces).toEqual([]);
  expect(report.refused).toEqual([
    'Nothing is left: no shell of it encloses anything. Keep what encloses nothing',
  ]);
  const kept = await printed(odd, { drop: false, cuts: { by: 'bed' } });
  expect(kept.report.refused[0]).toMatch(/^Nothing was cut/);
  const two = both(without(cube, 0, 1), box([50, 0, 0], [60, 10, 10]));
  expect((await printed(two, { close: false })).report.refused).toEqual([
    'Shells were not joined. It is not closed: mend it first, so that there is an inside',
  ]);
});

test('thousands of shells that look inwards are turned, and counted', async () => {
  const many = both(
    ...Array.from({ length: 400 }, (_, i) => {
      const [x, y] = [(i % 40) * 3, Math.floor(i / 40) * 3];
      return turned(
        box([x, y, 0], [x + 1, y + 1, 1]),
        ...Array.from({ length: 12 }, (_, triangle) => triangle),
      );
    }),
  );
  expect(volumeOf(orient(many).solid)).toBeCloseTo(400);
  const { report } = await printed(many);
  expect(report.mended).toMatchObject({ shellCount: 400, isWatertight: true });
  expect(report.mended.volume).toBeCloseTo(400, 0);
  expect(report.found.shells).toHaveLength(100);
});

test('each shell is drawn by itself, in a hue that tells it from the next; one body is plain', async () => {
  const print = await printed(both(cube, box([50, 0, 0], [60, 10, 10])), { join: false });
  const form = formOfPrint(print);
  const drawn = (level: number) => form.parts.filter((part) => part.level === level);
  expect(drawn(0).map(({ material }) => material)).toEqual([0, 1]);
  expect(drawn(0).reduce((sum, { triangles }) => sum + triangles.length / 3, 0)).toBe(24);
  // In metres with y up again.
  expect(Math.max(...drawn(0)[0]!.places)).toBeCloseTo(0.03);
  expect(drawn(2)).toHaveLength(1);
  const one = formOfPrint(await printed(cube));
  expect(one.parts.map(({ material }) => material)).toEqual([-1, -1, -1]);
  const many = formOfPrint(
    await printed(both(...Array.from({ length: 70 }, (_, i) => box([3 * i, 0, 0], [3 * i + 1, 1, 1])))),
  );
  expect(many.parts.filter(({ level }) => level === 0)).toHaveLength(61);
});

test('thousands of triangles on one edge are one shell, told at once', () => {
  const blades = 30_000;
  const places = new Float64Array(3 * (blades + 2));
  const corners: number[] = [];
  places.set([0, 0, 10], 3);
  for (let i = 0; i < blades; i++) {
    const angle = (2 * Math.PI * i) / blades;
    places.set([10 * Math.cos(angle), 10 * Math.sin(angle), 5], 3 * (i + 2));
    corners.push(0, 1, i + 2);
  }
  const blade: Solid = { places, corners: Uint32Array.from(corners) };
  const edges = edgesOf(blade);
  expect(shellsOf(blade, edges).count).toBe(1);
  expect(patchesOf(blade, edges).count).toBe(blades);
});

test('a fan of thousands of triangles about one vertex comes to an end, and says that not all was looked at', async () => {
  const rim = 4000;
  const places = new Float64Array(3 * (rim + 2));
  const corners: number[] = [];
  for (let i = 0; i < rim; i++) {
    const angle = (2 * Math.PI * i) / rim;
    places.set([50 * Math.cos(angle), 50 * Math.sin(angle), 0], 3 * i);
    corners.push(i, (i + 1) % rim, rim, (i + 1) % rim, i, rim + 1);
  }
  places.set([0, 0, 20], 3 * rim);
  places.set([0, 0, -20], 3 * rim + 3);
  const { report } = await printed({ places, corners: Uint32Array.from(corners) });
  expect(report.found).toMatchObject({ isWatertight: true, shellCount: 1, hasMoreCrossings: true });
  expect(report.pieces[0]).toMatchObject({ isWatertight: true, hasRoom: true });
});

test('a 3MF names its unit, its objects and its triangles; names are escaped', () => {
  const files = threeMfFiles([{ name: '<Lantern> & "hook"\u0000', solid: cube }]);
  expect(files.map(({ path }) => path)).toEqual(['[Content_Types].xml', '_rels/.rels', '3D/3dmodel.model']);
  const { text } = files[2]!;
  expect(text).toContain('unit="millimeter"');
  expect(text).toContain('name="&#60;Lantern&#62; &#38; &#34;hook&#34;"');
  expect(text.match(/<vertex /g)).toHaveLength(8);
  expect(text.match(/<triangle /g)).toHaveLength(12);
  expect(text.match(/<item /g)).toHaveLength(1);
});
