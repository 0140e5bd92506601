import type { Kind } from '@/core/kinds';
import { archiveUi } from './archive/ui';
import { dataUi } from './data/ui';
import { filmUi } from './film/ui';
import { fontUi } from './font/ui';
import type { MediumUi } from './medium-ui';
import { modelUi } from './model/ui';
import { pictureUi } from './picture/ui';
import { programUi } from './program/ui';
import { soundUi } from './sound/ui';
import { tableUi } from './table/ui';
import { textUi } from './text/ui';

/** What each medium has for the screens; a line a medium. */
const MEDIA: Readonly<Record<Kind, MediumUi>> = {
  picture: pictureUi,
  sound: soundUi,
  film: filmUi,
  model: modelUi,
  text: textUi,
  font: fontUi,
  table: tableUi,
  archive: archiveUi,
  program: programUi,
  data: dataUi,
};

/** What the screens have for a kind, or for the sort of a head; undefined for what is no medium. */
export const uiOf = (kind: string): MediumUi | undefined =>
  Object.hasOwn(MEDIA, kind) ? MEDIA[kind as Kind] : undefined;

/** All kinds with their icons. */
export const MEDIA_UI: readonly MediumUi[] = Object.values(MEDIA);
