import { endingOf, typeOfHead } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import type { Mend, Prepared } from '@/core/fit';
import type { MediaTools, MediumFile } from '@/media/medium';
import { wrappedModelOf } from '@/platform/node/wrapped-models';
import { UserError } from '@/platform/user-error';
import { fitForm, openEnding, writeOpenForm, type Form, type WriteEnding } from '../core';
import { foundInModel } from '../core/wording';
import { formOf } from './forms';

const WRITTEN: readonly string[] = ['glb', 'obj', 'ply', 'stl'] satisfies WriteEnding[];

/** Makes a model ready for a slot: one that a script describes, or one in an open format. */
export async function prepareModel(
  slot: MediumFile & { readonly kind: string },
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  { scripts }: MediaTools,
): Promise<Prepared | undefined> {
  const wrapped = wrappedModelOf(slot.bytes, slot.name, scripts);
  if (wrapped) {
    const other = wrappedModelOf(given.bytes, given.name, scripts);
    // A file of the very format is the thing itself.
    if (other?.title === wrapped.title) {
      const has = new Set(other.form.bones.map(({ name }) => name));
      const names = wrapped.form.bones.map(({ name }) => name).filter((name) => !has.has(name));
      return {
        bytes: given.bytes,
        findings: [
          foundInModel('fits', 'same-file', { format: wrapped.title }),
          ...(names.length > 0 ? [foundInModel('look', 'other-bones', { names })] : []),
        ],
      };
    }
    const form = await givenForm(given, slot.name, scripts);
    return fitForm(
      wrapped,
      form,
      given.name,
      mends,
      (made) => wrappedModelOf(made, slot.name, scripts)!.form,
    );
  }
  const ending = openEnding(slot.bytes, endingOf(slot.name));
  const isModel = slot.kind === 'model' && (ending !== undefined || typeOfHead(slot.bytes)?.kind === 'model');
  if (!isModel || !ending) return undefined;
  const format = ending.toUpperCase();
  const form = await givenForm(given, slot.name, scripts);
  if (openEnding(given.bytes, endingOf(given.name)) === ending)
    return { bytes: given.bytes, findings: [foundInModel('fits', 'same-file', { format })] };
  if (!WRITTEN.includes(ending))
    return {
      bytes: undefined,
      findings: [foundInModel('does not fit', 'only-read', { name: given.name, format })],
    };
  return {
    bytes: await writeOpenForm(form, ending as WriteEnding),
    findings: [foundInModel('look', 'saved', { format })],
  };
}

async function givenForm(
  { bytes, name }: MediumFile,
  path: string,
  scripts: MediaTools['scripts'],
): Promise<Form> {
  try {
    const opened = await formOf(bytes, name, scripts);
    if (opened) return opened.form;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(422, `${name} cannot be read: ${error.message}. Nothing was changed.`);
  }
  throw new UserError(
    422,
    `${name} is no model that can be read here; ${path} holds one. Give a GLB, glTF, OBJ, PLY, STL or COLLADA file, a ZIP with one and what lies beside it, or a file of the same format as the slot. Nothing was changed.`,
  );
}
