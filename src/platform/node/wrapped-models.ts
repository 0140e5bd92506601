import { memorySource } from '@/core/bytes';
import { openModel, type WrappedModel } from '@/media/model/core';
import type { MediaScripts } from './media-scripts';
import { nodePrimitives } from './primitives';

/** A model that a format script describes, or undefined where no script knows the bytes as one. */
export function wrappedModelOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
): WrappedModel | undefined {
  const shelved = scripts(memorySource(bytes, name), 'model');
  return shelved && openModel(shelved.script, bytes, name, nodePrimitives);
}
