import { endingOf } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { unzipAll } from '@/platform/node/unzip-all';
import { wrappedModelOf } from '@/platform/node/wrapped-models';
import { openEnding, readOpenForm, type Form } from '../core';

/** A model that is open, and how its file is called. */
export interface OpenedForm {
  readonly form: Form;
  readonly format: string;
  /** Metres that a unit of its file is. */
  readonly unit: number;
}

/** The form of a file that a script knows, or of an open format; undefined for what is neither. Throws FormatError where it is damaged. */
export async function formOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): Promise<OpenedForm | undefined> {
  const wrapped = wrappedModelOf(bytes, name, scripts);
  if (wrapped) return { form: wrapped.form, format: wrapped.title, unit: wrapped.unit };
  if (ZIP_SIGN.every((sign, i) => bytes[i] === sign)) return formInZip(bytes, name);
  const ending = openEnding(bytes, endingOf(name));
  if (!ending) return undefined;
  return { form: await readOpenForm(bytes, ending, name), format: ending.toUpperCase(), unit: 1 };
}

const ZIP_SIGN = [0x50, 0x4b, 3, 4];

/** The model in a ZIP, with what lies beside it there: glTF with files of its own is handed on so. */
async function formInZip(bytes: Uint8Array, name: string): Promise<OpenedForm> {
  const files = await unzipAll(bytes, name);
  const models = [...files].flatMap(([path, own]) => {
    const ending = openEnding(own, endingOf(path));
    return ending ? [{ path, own, ending }] : [];
  });
  const [model] = models;
  if (models.length !== 1 || !model)
    throw new FormatError('bad-value', {
      ...{
        file: name,
        expected: 'a ZIP with one model in it',
        actual: `${models.length} of ${files.size} files`,
      },
      remedy: 'Give one model at a time, with the files that belong to it',
    });
  const folder = model.path.slice(0, model.path.lastIndexOf('/') + 1);
  const beside = new Map(
    [...files].flatMap(([path, own]) => (path.startsWith(folder) ? [[path.slice(folder.length), own]] : [])),
  );
  const form = await readOpenForm(model.own, model.ending, `${name}//${model.path}`, beside);
  return { form, format: model.ending.toUpperCase(), unit: 1 };
}

/** The same, where it must be one. */
export async function needForm(bytes: Uint8Array, name: string, scripts: MediaScripts): Promise<OpenedForm> {
  const opened = await formOf(bytes, name, scripts);
  if (opened) return opened;
  throw new FormatError('not-recognised', {
    ...{
      file: name,
      expected: 'a model as GLB, glTF, OBJ, PLY, STL or COLLADA, or one that a format script describes',
    },
    remedy: "Say in a script with a section 'model' how it is kept",
  });
}
