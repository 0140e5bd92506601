import type { Kind } from '@/core/kinds';
import type { MediumFormats } from '@/core/kinds/formats';
import { archiveFormats } from './archive/core/formats';
import { dataFormats } from './data/core/formats';
import { filmFormats } from './film/core/formats';
import { fontFormats } from './font/core/formats';
import { modelFormats } from './model/core/formats';
import { pictureFormats } from './picture/core/formats';
import { programFormats } from './program/core/formats';
import { soundFormats } from './sound/core/formats';
import { tableFormats } from './table/core/formats';
import { textFormats } from './text/core/formats';

/** What open formats of each kind are known by; a line a medium. */
export const FORMATS: Readonly<Record<Kind, MediumFormats>> = {
  picture: pictureFormats,
  sound: soundFormats,
  film: filmFormats,
  model: modelFormats,
  text: textFormats,
  font: fontFormats,
  table: tableFormats,
  archive: archiveFormats,
  program: programFormats,
  data: dataFormats,
};
