'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import InputAdornment from '@mui/material/InputAdornment';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '@/ui/api';
import { number, plural } from '@/ui/format';
import { NumberField } from '@/ui/kit/NumberField';
import type { PackedForm } from '../core/view/pack';
import { stemFor, TAKE_ENDINGS, TakeSettings, type Taken } from '../core/take';
import { Check } from './fields';
import { GreyFields } from './GreyFields';
import { useGreys } from './use-greys';
import type { Worn } from './view/use-model';

/** What of a model is taken out, with what that comes to, before it is. */
export function TakeDialog({
  gameId,
  entryUrl,
  path,
  worn,
  form,
  clipsForm,
  clipsOf,
  hidden,
  onClose,
}: {
  readonly gameId: number;
  readonly entryUrl: string;
  /** The path of the model, by which its file is called. */
  readonly path: string;
  /** Pictures that were put on by hand. */
  readonly worn: Worn;
  readonly form: PackedForm;
  /** The form whose clips can go along, and the entry that it is of where that is another one. */
  readonly clipsForm: PackedForm;
  readonly clipsOf: string;
  /** Numbers of parts that are not shown. */
  readonly hidden: readonly number[];
  readonly onClose: () => void;
}) {
  const [greys, keepGreys] = useGreys(gameId);
  const [settings, setSettings] = useState<TakeSettings>(() => ({
    ...TakeSettings.parse({}),
    left: hidden.map((i) => form.parts[i]!.name),
  }));
  const whole: TakeSettings = { ...settings, greys };
  const change = (to: Partial<TakeSettings>): void => setSettings((before) => ({ ...before, ...to }));
  const asked = (of: TakeSettings): string =>
    new URLSearchParams({
      settings: JSON.stringify(of),
      ...(clipsOf !== '' && { clips: clipsOf }),
      ...(worn.size > 0 && { worn: JSON.stringify(Object.fromEntries(placesOf(worn))) }),
    }).toString();
  // What it comes to does not follow from what it is called.
  const query = asked({ ...whole, called: '' });
  const { data: told, error } = useQuery<Taken>({
    queryKey: ['taken', entryUrl, query],
    queryFn: () => api.get(`${entryUrl.replace('/api/', '')}/form/taken?${query}`),
    retry: false,
    placeholderData: keepPreviousData,
  });
  const parts = [...new Set(form.parts.map(({ name }) => name))];
  const clips = clipsForm.clips.map(({ name }) => name);
  const chosen = settings.clips ?? clips;
  const hasBones = settings.as === 'glb' || settings.as === 'gltf';
  const hasGreys = form.materials.some(({ pictures }) => pictures.grey !== undefined);
  const without = (list: readonly string[], name: string, isOn: boolean): string[] =>
    isOn ? list.filter((one) => one !== name) : [...list, name];
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Take it out</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 3 }}>
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
          <Box>
            <Select
              size="small"
              value={settings.as}
              inputProps={{ 'aria-label': 'Format' }}
              onChange={({ target }) => change({ as: target.value })}
            >
              {TAKE_ENDINGS.map((ending) => (
                <MenuItem key={ending} value={ending}>
                  {ENDING_NAMES[ending]}
                </MenuItem>
              ))}
            </Select>
            <TextField
              size="small"
              value={settings.called}
              placeholder={stemFor('', path)}
              onChange={({ target }) => change({ called: target.value })}
              slotProps={{
                htmlInput: { 'aria-label': 'File name', maxLength: 120 },
                input: {
                  endAdornment: (
                    <InputAdornment position="end">
                      .{settings.as === 'gltf' ? 'zip' : settings.as}
                    </InputAdornment>
                  ),
                },
              }}
              sx={{ ml: 1, width: 200 }}
            />
            <Check
              label="The finest level of detail alone"
              isOn={settings.finest}
              onChange={(finest) => change({ finest })}
            />
          </Box>
          <List title="Parts">
            {parts.map((name) => (
              <Check
                key={name}
                label={name}
                isOn={!settings.left.includes(name)}
                onChange={(isOn) => change({ left: without(settings.left, name, isOn) })}
              />
            ))}
          </List>
          {form.materials.length > 0 && (
            <List title="Materials">
              {form.materials.map(({ name }) => (
                <Check
                  key={name}
                  label={name}
                  isOn={!settings.leftMaterials.includes(name)}
                  onChange={(isOn) => change({ leftMaterials: without(settings.leftMaterials, name, isOn) })}
                />
              ))}
            </List>
          )}
        </Box>
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
          {hasBones && clips.length > 0 && (
            <Box>
              <List title="Clips">
                {clips.map((name) => (
                  <Check
                    key={name}
                    label={name}
                    isOn={chosen.includes(name)}
                    onChange={(isOn) =>
                      change({ clips: clips.filter((one) => (one === name ? isOn : chosen.includes(one))) })
                    }
                  />
                ))}
              </List>
              <Check
                label="Leave out keys that others make up for"
                isOn={settings.thin !== null}
                onChange={(isOn) => change({ thin: isOn ? { place: 1, turn: 0.2 } : null })}
              />
              {settings.thin && (
                <Box sx={{ display: 'flex', gap: 2, pl: 3.5, color: 'ink2' }}>
                  up to
                  <NumberField
                    {...{ label: 'Places may be off', unit: 'mm', least: 0.001, most: 10_000 }}
                    value={settings.thin.place}
                    onKeep={(place) => place && change({ thin: { ...settings.thin!, place } })}
                  />
                  <NumberField
                    {...{ label: 'Turns may be off', unit: '°', least: 0.001, most: 45 }}
                    value={settings.thin.turn}
                    onKeep={(turn) => turn && change({ thin: { ...settings.thin!, turn } })}
                  />
                </Box>
              )}
            </Box>
          )}
          {hasBones && hasGreys && <GreyFields greys={whole.greys} onChange={keepGreys} />}
          <Box role="status" aria-label="What that comes to">
            {error ? (
              <Box sx={{ color: 'bad' }}>{error.message}</Box>
            ) : (
              told && <Told told={told} as={settings.as} />
            )}
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          href={`${entryUrl}/form/file?${asked(whole)}`}
          disabled={!told || (hasBones ? told.parts + told.clips.length : told.parts) === 0}
        >
          Take it out
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Where pictures that were put on are, as `archive:index`. */
const placesOf = (worn: Worn): [string, string][] =>
  [...worn].flatMap(([path, { entry }]): [string, string][] =>
    entry ? [[path, `${entry.archiveId}:${entry.index}`]] : [],
  );

const ENDING_NAMES: Readonly<Record<TakeSettings['as'], string>> = {
  glb: 'GLB, all in one file',
  gltf: 'glTF with files beside it, as a ZIP',
  obj: 'OBJ, no bones',
  ply: 'PLY, one body',
  stl: 'STL, triangles alone',
  '3mf': '3MF, for printing',
};

function List({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box role="group" aria-label={title}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      <Box sx={{ maxHeight: 168, overflow: 'auto' }}>{children}</Box>
    </Box>
  );
}

function Told({ told, as }: { told: Taken; as: TakeSettings['as'] }) {
  const keys = told.clips.reduce((sum, clip) => sum + clip.keys, 0);
  const before = told.clips.reduce((sum, clip) => sum + clip.keysBefore, 0);
  const most = (of: 'place' | 'turn'): number => Math.max(0, ...told.clips.map((clip) => clip[of]));
  const hasClips = (as === 'glb' || as === 'gltf') && told.clips.length > 0;
  return (
    <Box sx={{ color: 'ink2', fontSize: 13 }}>
      <Box>
        {plural(told.parts, 'part')}, {number(told.triangles)} triangles,{' '}
        {plural(told.materials.length, 'material')}
      </Box>
      {hasClips && (
        <Box>
          {plural(told.clips.length, 'clip')},{' '}
          {keys === before
            ? `${number(keys)} keys`
            : `${number(keys)} of ${number(before)} keys, at most ${most('place').toFixed(2)} mm and ${most('turn').toFixed(2)}° off`}
        </Box>
      )}
      {told.missing.length > 0 && <Box>Bones that clips move and it has not: {told.missing.join(', ')}</Box>}
    </Box>
  );
}
