'use client';
import type { SideProps } from '@/media/medium-ui';
import { Failed, Loading } from '@/ui/kit/Blank';
import { ModelStage } from './view/ModelStage';
import { useForm, type ShownForm } from './view/use-form';
import { useModel } from './view/use-model';

const NONE: ReadonlyMap<string, string> = new Map();

/** A model before or after a change. */
export function ModelSide({ url, stamp, label }: SideProps) {
  const { data: shown, error } = useForm(url, stamp);
  if (error) return <Failed error={error} />;
  if (!shown) return <Loading what="Opening the model" />;
  return <Bare key={stamp} {...{ shown, label }} />;
}

/** Without the pictures of its materials: what changed here is its shape. */
function Bare({ shown, label }: { shown: ShownForm; label: string }) {
  const model = useModel(shown, { gameId: 0, archiveId: 0, index: 0, modId: undefined }, NONE);
  return <ModelStage {...{ shown, model, label }} height={200} />;
}
