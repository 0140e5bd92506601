import zlib from 'node:zlib';
import { nameHash } from '../hold-writer';
import { seeded } from '../random';

/** How the engine's levels are put together: pieces that are made of others, and layouts that say where each stands. */

interface PiecePart {
  readonly is: number;
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly turn: number;
}
interface Piece {
  readonly id: number;
  readonly name: string;
  /** The form that it looks like; one that is only made of others has none. */
  readonly form?: string;
  /** The code of the good that may be taken from it. */
  readonly good?: string;
  readonly parts?: readonly PiecePart[];
}

const part = (is: number, x: number, y: number, z: number, turn = 0): PiecePart => ({ is, x, y, z, turn });

const PLANK = 2101;
const LAMP_POST = 2110;
const RAIL = 2112;
const STALL = 2115;
const PIECES: readonly Piece[] = [
  { id: PLANK, name: 'plank', form: 'jetty/jetty.form' },
  { id: 2102, name: 'post' },
  { id: 2103, name: 'lantern', form: 'props/lantern/lantern.form', good: 'lf0040' },
  { id: 2104, name: 'boathook', form: 'props/boathook/boathook_fine.form', good: 'lf0046' },
  { id: 2105, name: 'bell', good: 'lf0052' },
  { id: 2106, name: 'rope', good: 'lf0055' },
  { id: 2107, name: 'eel basket', good: 'lf0064' },
  { id: 2108, name: 'otter', form: 'creatures/otter/otter.form' },
  { id: 2109, name: 'bog-heron', form: 'creatures/bog_heron/bog_heron.form' },
  { id: LAMP_POST, name: 'lamp post', parts: [part(2102, 0, 0, 0), part(2103, 0.4, 0, 2.1, 90)] },
  { id: 2111, name: 'mooring', parts: [part(2102, 0, 0, -0.5), part(2106, 0.2, 0, 0.3)] },
  {
    id: RAIL,
    name: 'rail with lamps',
    parts: [part(LAMP_POST, 0, 0, 0), part(LAMP_POST, 6, 0, 0, 180), part(PLANK, 3, 0, 0.9)],
  },
  { id: 2113, name: 'ferry bell', parts: [part(2102, 0, 0, 0), part(2105, 0, 0, 1.8)] },
  { id: 2114, name: 'Odd', form: 'actors/odd/odd.form' },
  {
    id: STALL,
    name: 'eel stall',
    parts: [
      part(PLANK, 0, 0, 1),
      part(2107, -0.8, 0, 1.1, 15),
      part(2107, 0.8, 0.2, 1.1, -20),
      part(2103, 0, 0, 2.2),
    ],
  },
];

export const piecesTable = (): string =>
  `${JSON.stringify(
    PIECES.map(({ id, name, form = '', good = '', parts = [] }) => ({
      ...{ id, name, form, good },
      // What the engine looks a form up by; the path is for people.
      look: form === '' ? '' : nameHash(form).toString(16).padStart(16, '0'),
      parts,
    })),
    null,
    1,
  )}\n`;

export interface LayoutRow {
  readonly id: number;
  readonly under: number;
  readonly piece: number;
  readonly at: readonly [number, number, number];
  readonly turn: number;
}

/** A layout as the engine reads it: a tag, how many rows, the sum of these, and 24 bytes for each. */
export function writeLayout(rows: readonly LayoutRow[]): Buffer {
  const body = Buffer.concat(
    rows.map(({ id, under, piece, at, turn }) => {
      const row = Buffer.alloc(24);
      [id, under, piece].forEach((value, i) => row.writeUInt16LE(value, 2 * i));
      [...at, turn].forEach((value, i) => row.writeFloatLE(value, 8 + 4 * i));
      return row;
    }),
  );
  const head = Buffer.alloc(16);
  head.write('LAYT', 0, 'latin1');
  head.writeUInt32LE(1, 4);
  head.writeUInt32LE(rows.length, 8);
  head.writeUInt32LE(zlib.crc32(body), 12);
  return Buffer.concat([head, body]);
}

/** A walk of planks with what stands on it, and what is moored along it. */
function walkOf(name: string, first: number, planks: number, own: readonly number[]): LayoutRow[] {
  const random = seeded(`layout ${name}`);
  const rows: LayoutRow[] = [];
  const put = (piece: number, under: number, at: readonly [number, number, number], turn = 0): number => {
    const id = first + rows.length;
    rows.push({ id, under, piece, at, turn });
    return id;
  };
  for (let i = 0; i < planks; i++) {
    const plank = put(
      PLANK,
      0,
      [i * 4, Math.round(Math.sin(i * 0.7) * 6) / 2, 0],
      i % 3 === 0 ? 0 : 4 * (i % 5),
    );
    if (i % 3 === 1) put(RAIL, plank, [0, 1.5, 0], i % 2 === 0 ? 0 : 180);
    if (i % 4 === 2) put(2111, plank, [1, -1.5, 0], Math.floor(random() * 8) * 45);
    const stands = own[i % own.length]!;
    if (stands > 0)
      put(stands, plank, [Math.round(random() * 30) / 10, 0, 0.2], Math.floor(random() * 12) * 30);
  }
  return rows;
}

/** The layouts of places, by their paths. */
export const layouts = (): Map<string, Buffer> =>
  new Map([
    ['levels/jetty.layout', writeLayout(walkOf('jetty', 4100, 9, [2113, 0, 2114, 2104, 0, 2108]))],
    [
      'levels/market_raft.layout',
      writeLayout(walkOf('market raft', 4300, 12, [STALL, 0, STALL, 2107, 2114])),
    ],
    ['levels/lamp_tower.layout', writeLayout(walkOf('lamp tower', 4500, 6, [LAMP_POST, 2109, 0]))],
  ]);
