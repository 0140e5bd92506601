import type { MediumNode } from '@/media/medium';
import { modelConverters } from './converters';
import { prepareModel } from './fit';
import { modelHead } from './head';
import { modelMeasuring } from './measure';

/** Models, where there is Node. */
export const modelNode: MediumNode = {
  kind: 'model',
  converters: modelConverters,
  measure: modelMeasuring,
  head: modelHead,
  fit: prepareModel,
};
