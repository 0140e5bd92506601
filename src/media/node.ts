import { filmNode } from './film/node';
import { fontNode } from './font/node';
import type { MediumNode } from './medium';
import { modelNode } from './model/node';
import { pictureNode } from './picture/node';
import { soundNode } from './sound/node';
import { tableNode } from './table/node';
import { textNode } from './text/node';

/** What each medium does where there is Node, in the order in which they are asked; a line a medium. */
export const MEDIA_NODE: readonly MediumNode[] = [
  ...[pictureNode, soundNode, filmNode, modelNode, fontNode, tableNode, textNode],
];

/** What the medium of a kind does, or that of a head of a sort. */
export const nodeOf = (kind: string): MediumNode | undefined => MEDIA_NODE.find((one) => one.kind === kind);
