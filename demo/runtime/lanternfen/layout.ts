import zlib from 'node:zlib';
import { Stall } from '../common/stall';

interface Piece {
  readonly id: number;
  readonly form: string;
  readonly parts: readonly { readonly is: number }[];
}

/** A level as it stands: how many pieces it has with all that these are made of, and the forms that they look like. */
export interface LoadedLevel {
  readonly pieces: number;
  readonly forms: ReadonlySet<string>;
}

const ROW = 24;

/** Puts a level together as the engine does: every row's piece, what it hangs on, and what the pieces are made of. */
export function readLevel(layout: Buffer, pieces: Buffer, what: string): LoadedLevel {
  if (layout.length < 16 || layout.toString('latin1', 0, 4) !== 'LAYT')
    throw new Stall(what, 'layout tag', 'this is no layout');
  const count = layout.readUInt32LE(8);
  if (layout.length !== 16 + ROW * count)
    throw new Stall(what, 'layout count', `${count} rows in ${layout.length} bytes`);
  if (zlib.crc32(layout.subarray(16)) !== layout.readUInt32LE(12))
    throw new Stall(what, 'layout check', 'the bytes do not check');
  const known = new Map(piecesOf(pieces).map((piece) => [piece.id, piece]));
  const rows = Array.from({ length: count }, (_, i) => {
    const at = 16 + ROW * i;
    const [id, under, piece] = [0, 2, 4].map((place) => layout.readUInt16LE(at + place));
    return { id: id!, under: under!, piece: piece! };
  });
  const under = new Map(rows.map((row) => [row.id, row.under]));
  if (under.size !== count) throw new Stall(what, 'layout rows', 'two of them have one number');
  const forms = new Set<string>();
  let total = 0;
  const stand = (id: number, where: string, held: readonly number[]): void => {
    const piece = known.get(id);
    if (!piece) throw new Stall(what, where, `there is no piece ${id}`);
    if (held.includes(id)) throw new Stall(what, where, `piece ${id} is made of itself`);
    total++;
    if (piece.form !== '') forms.add(piece.form);
    for (const { is } of piece.parts) stand(is, `piece ${id}`, [...held, id]);
  };
  for (const row of rows) {
    const way = new Set<number>();
    for (let on = row.id; on !== 0; on = under.get(on)!) {
      if (!under.has(on)) throw new Stall(what, `row ${row.id}`, `it hangs on ${on}, which is not there`);
      if (way.has(on)) throw new Stall(what, `row ${row.id}`, 'it hangs on itself');
      way.add(on);
    }
    stand(row.piece, `row ${row.id}`, []);
  }
  return { pieces: total, forms };
}

function piecesOf(bytes: Buffer): Piece[] {
  try {
    return JSON.parse(bytes.toString('utf8')) as Piece[];
  } catch (error) {
    throw new Stall('levels/pieces.json', 'form', (error as Error).message);
  }
}
