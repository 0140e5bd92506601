import { endingOf } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
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
  const ending = openEnding(bytes, endingOf(name));
  if (!ending) return undefined;
  return { form: await readOpenForm(bytes, ending, name), format: ending.toUpperCase(), unit: 1 };
}

/** The same, where it must be one. */
export async function needForm(bytes: Uint8Array, name: string, scripts: MediaScripts): Promise<OpenedForm> {
  const opened = await formOf(bytes, name, scripts);
  if (opened) return opened;
  throw new FormatError('not-recognised', {
    ...{
      file: name,
      expected: 'a model as GLB, glTF, OBJ, PLY or STL, or one that a format script describes',
    },
    remedy: "Say in a script with a section 'model' how it is kept",
  });
}
