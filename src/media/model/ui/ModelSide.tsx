'use client';
import Box from '@mui/material/Box';
import { useMemo, useState } from 'react';
import type { SideProps } from '@/media/medium-ui';
import { Failed, Loading } from '@/ui/kit/Blank';
import { finestLevel } from '../core/form/form';
import { Check } from './fields';
import { ModelStage } from './view/ModelStage';
import { useForm, useGeometries, type ShownForm } from './view/use-form';
import { NOTHING_WORN, useModel } from './view/use-model';

/** A model before or after a change; the other one can be laid over it. */
export function ModelSide({ url, stamp, label, against }: SideProps) {
  const [isOver, setOver] = useState(false);
  const { data: shown, error } = useForm(url, stamp);
  const { data: other } = useForm(isOver && against ? against.url : '', stamp);
  if (error) return <Failed error={error} />;
  if (!shown) return <Loading what="Opening the model" />;
  return (
    <>
      {isOver && other ? (
        <Over key={stamp} {...{ shown, other, label }} />
      ) : (
        <Bare key={stamp} {...{ shown, label }} />
      )}
      {against && (
        <Box sx={{ fontSize: 12.5 }}>
          <Check label={`Lay ${against.title} over it`} isOn={isOver} onChange={setOver} />
        </Box>
      )}
    </>
  );
}

/** Without the pictures of its materials: what changed here is its shape. */
function Bare({
  shown,
  label,
  over,
}: {
  shown: ShownForm;
  label: string;
  over?: ReturnType<typeof useGeometries>;
}) {
  const model = useModel(shown, { gameId: 0, archiveId: 0, index: 0, modId: undefined }, NOTHING_WORN);
  return <ModelStage {...{ shown, model, label, over }} height={200} />;
}

function Over({ shown, other, label }: { shown: ShownForm; other: ShownForm; label: string }) {
  const geometries = useGeometries(other);
  const over = useMemo(() => {
    const { parts } = other.form;
    const finest = finestLevel(parts);
    return geometries.filter((_, i) => parts[i]!.level === finest);
  }, [geometries, other]);
  return <Bare {...{ shown, label, over }} />;
}
