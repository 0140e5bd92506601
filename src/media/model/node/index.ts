import type { MediumNode } from '@/media/medium';
import { modelConverters } from './converters';
import { prepareModel } from './fit';
import { modelHead } from './head';

/** Models, where there is Node. */
export const modelNode: MediumNode = {
  kind: 'model',
  converters: modelConverters,
  head: modelHead,
  fit: prepareModel,
};
