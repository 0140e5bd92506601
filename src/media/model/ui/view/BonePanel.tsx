'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import type { ShownForm } from './use-form';
import type { Model } from './use-model';

/** Chooses a bone, whose weights are shown as colours. */
export function BonePanel({
  shown,
  model: { view, change },
}: {
  readonly shown: ShownForm;
  readonly model: Model;
}) {
  const { bones } = shown.form;
  const options = useMemo(() => bones.map(({ name }, number) => ({ number, label: name })), [bones]);
  const moved = useMemo(() => movedBy(shown, view.bone), [shown, view.bone]);
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Bones
      </Typography>
      <Autocomplete
        size="small"
        options={options}
        value={options[view.bone] ?? null}
        getOptionKey={({ number }) => number}
        isOptionEqualToValue={(a, b) => a.number === b.number}
        onChange={(_event, chosen) =>
          change(
            chosen
              ? { bone: chosen.number, surface: 'weights', showsBones: true }
              : { bone: -1, surface: view.surface === 'weights' ? 'painted' : view.surface },
          )
        }
        renderInput={(props) => <TextField {...props} label={`One of ${bones.length} bones`} />}
      />
      {bones[view.bone] && (
        <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 0.75 }}>
          {moved === 0 ? 'Moves no vertex' : `Moves ${moved.toLocaleString('en')} vertices`}
          {bones[bones[view.bone]!.parent] ? `, hangs on ${bones[bones[view.bone]!.parent]!.name}` : ''}
        </Box>
      )}
    </Box>
  );
}

function movedBy({ form, floats }: ShownForm, bone: number): number {
  if (bone < 0) return 0;
  let count = 0;
  for (const { joints, weights, vertices } of form.parts) {
    if (joints === null || weights === null) continue;
    const [own, weigh] = [floats(joints, 4 * vertices), floats(weights, 4 * vertices)];
    for (let i = 0; i < own.length; i += 4)
      for (let j = 0; j < 4; j++)
        if (own[i + j] === bone && weigh[i + j]! > 0) {
          count++;
          break;
        }
  }
  return count;
}
