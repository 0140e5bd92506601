import { FormatError } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { packForm, writeOpenForm, type Form } from '../core';
import type { PrintSettings, Solid, ToldOfPrint } from '../core/print';
import { needForm } from './forms';
import { zipped } from './zipped';

/** The packages that solids are worked with are large, and most who start print nothing. */
const printing = (): Promise<typeof import('../core/print')> => import('../core/print');

/** A print packed to be drawn, with what is told of it. */
export async function packedPrint(
  bytes: Uint8Array,
  name: string,
  settings: PrintSettings,
  scripts: MediaScripts,
): Promise<Uint8Array<ArrayBuffer>> {
  const { form } = await needForm(bytes, name, scripts);
  const { formOfPrint, printOf } = await printing();
  const print = await printOf(form, name, settings);
  const told: ToldOfPrint = { report: print.report, marks: print.marks };
  return packForm(formOfPrint(print), 1, told);
}

export const PRINT_FILES = ['3mf', 'stl'] as const;
export type PrintFile = (typeof PRINT_FILES)[number];

/** The pieces of a print: a 3MF of all of them, or an STL; of several a ZIP of STLs. Gives the bytes and the ending. */
export async function printFile(
  bytes: Uint8Array,
  name: string,
  settings: PrintSettings,
  as: PrintFile,
  scripts: MediaScripts,
): Promise<{ readonly bytes: Uint8Array; readonly ending: string }> {
  const { form } = await needForm(bytes, name, scripts);
  const { printOf } = await printing();
  const { pieces, report } = await printOf(form, name, settings);
  if (pieces.length === 0)
    throw new FormatError('bad-value', {
      ...{ file: name, why: 'nothing is left to print' },
      remedy: report.refused[0] ?? 'Take a part in again',
    });
  const named = pieces.map((solid, i) => ({ name: report.pieces[i]!.name, solid }));
  if (as === '3mf') return { bytes: await threeMf(named), ending: '3mf' };
  const stls = await Promise.all(named.map(({ solid }) => stlOf(solid)));
  if (stls.length === 1) return { bytes: stls[0]!, ending: 'stl' };
  return {
    bytes: await zipped(stls.map((stl, i) => ({ path: `${named[i]!.name}.stl`, bytes: stl }))),
    ending: 'zip',
  };
}

/** Pieces as a 3MF package. */
async function threeMf(
  pieces: readonly { readonly name: string; readonly solid: Solid }[],
): Promise<Uint8Array> {
  const { threeMfFiles } = await printing();
  return zipped(
    threeMfFiles(pieces).map(({ path, text }) => ({ path, bytes: new TextEncoder().encode(text) })),
  );
}

/** The finest parts of a form as a 3MF of one object, in millimetres and as large as they are. */
export async function formAs3mf(form: Form, name: string): Promise<Uint8Array> {
  const { wholeSolid } = await printing();
  return threeMf([{ name, solid: wholeSolid(form, name) }]);
}

/** Triangles as they are, in millimetres with z up, as programs for printing take STL. */
const stlOf = ({ places, corners }: Solid): Promise<Uint8Array> =>
  writeOpenForm(
    {
      parts: [
        {
          ...{ name: '', level: 0, material: -1, coordinates: [], morphs: [] },
          ...{ places: new Float32Array(places), triangles: corners },
        },
      ],
      ...{ materials: [], bones: [], clips: [] },
    },
    'stl',
  );
