'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { Recipe } from '@/core/recipe';
import type { Preview } from '@/server/recipes/recipes';
import { api } from '../api';
import { LENSES } from '@/media/lenses';
import { rememberFolder, useOutputFolder } from '../default-folder';
import { bytes, number, plural } from '../format';
import { MEDIA_WAYS, STORED, waysOf } from '@/media/ways';
import { FolderField } from '../kit/FolderField';
import { useAction } from '../queries';
import { RecipePreview } from './RecipePreview';

export const NEW_RECIPE: Recipe = {
  title: '',
  pick: { search: '', folder: '', kind: null },
  convert: Object.fromEntries(MEDIA_WAYS.map(([kind]) => [kind, STORED.name])),
  name: { how: 'tree', pattern: '{folder}/{stem}{ending}' },
  folder: '',
  edited: 'keep',
};

/** More lines than this make a field that nobody can type in. */
const MOST_EDITED = 2000;

/** Makes or changes a recipe; what it would write is shown before anything is. */
export function RecipeDialog({
  gameId,
  recipe: given,
  id,
  onClose,
}: {
  gameId: number;
  recipe: Recipe;
  id?: number;
  onClose: () => void;
}) {
  const [said, setRecipe] = useState<Recipe>(given);
  const [folder, setFolder] = useOutputFolder(gameId, given.folder);
  const recipe = { ...said, folder };
  const change = (part: Partial<Recipe>): void => setRecipe((old) => ({ ...old, ...part }));
  const preview = useAction((asked: Recipe) =>
    api.post<Preview>(`games/${gameId}/recipes/preview`, {
      recipe: { ...asked, title: asked.title || 'preview' },
    }),
  );
  const keep = useAction(
    async (run: boolean) => {
      const kept = await api.post<{ id: number }>(`games/${gameId}/recipes`, { recipe, ...(id && { id }) });
      if (run) await api.post(`games/${gameId}/recipes/${kept.id}`);
      return run;
    },
    (run) => {
      rememberFolder(gameId, folder);
      enqueueSnackbar(run ? `${recipe.title} runs; see the jobs at the top.` : `${recipe.title} is kept.`);
      onClose();
    },
  );
  const isComplete = recipe.title.trim() !== '' && recipe.folder.trim() !== '';
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>{id === undefined ? 'New recipe' : 'Recipe'}</DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, pt: 1 }}>
          <TextField
            label="Title"
            value={recipe.title}
            onChange={(event) => change({ title: event.target.value })}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <FolderField
            label="Folder on this machine"
            value={recipe.folder}
            onChange={setFolder}
            margin="none"
          />
          <Pick recipe={recipe} onChange={change} />
          {MEDIA_WAYS.map(([kind, { title }]) => (
            <Choice
              key={kind}
              label={title}
              value={recipe.convert[kind] ?? STORED.name}
              options={Object.fromEntries(waysOf(kind).map(({ name, label }) => [name, label]))}
              onChange={(way) => change({ convert: { ...recipe.convert, [kind]: way } })}
            />
          ))}
          <Choice
            label="Files that somebody changed"
            value={recipe.edited}
            options={{ keep: 'are kept', replace: 'are written over' }}
            onChange={(edited) => change({ edited })}
          />
          <Choice
            label="Names"
            value={recipe.name.how}
            options={{ tree: 'as in the game', flat: 'all in one folder', pattern: 'by a pattern' }}
            onChange={(how) =>
              change({ name: { how, pattern: recipe.name.pattern || NEW_RECIPE.name.pattern } })
            }
          />
          {recipe.name.how === 'pattern' ? (
            <TextField
              label="Pattern"
              value={recipe.name.pattern}
              onChange={(event) => change({ name: { ...recipe.name, pattern: event.target.value } })}
              slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
              helperText="{folder} {name} {stem} {ending} {alias} {number} {hash} {archive}, {1} the first step of the path, {-1} the last"
            />
          ) : (
            <span />
          )}
        </Box>
        <Box sx={{ mt: 2 }}>
          <Button variant="outlined" loading={preview.isPending} onClick={() => preview.mutate(recipe)}>
            Preview
          </Button>
          {preview.data && (
            <Box component="span" sx={{ ml: 2 }}>
              {plural(preview.data.count, 'file')}, {bytes(preview.data.bytes)}
              {preview.data.renamedCount > 0 && `, ${number(preview.data.renamedCount)} under another name`}
            </Box>
          )}
          {preview.data && <RecipePreview preview={preview.data} />}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button disabled={!isComplete} loading={keep.isPending} onClick={() => keep.mutate(false)}>
          Save
        </Button>
        <Button
          variant="contained"
          disabled={!isComplete}
          loading={keep.isPending}
          onClick={() => keep.mutate(true)}
        >
          Save and run
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: Record<T, string>;
  onChange: (value: T) => void;
}) {
  return (
    <TextField select label={label} value={value} onChange={(event) => onChange(event.target.value as T)}>
      {(Object.entries(options) as [T, string][]).map(([option, title]) => (
        <MenuItem key={option} value={option}>
          {title}
        </MenuItem>
      ))}
    </TextField>
  );
}

function Pick({ recipe, onChange }: { recipe: Recipe; onChange: (part: Partial<Recipe>) => void }) {
  const { pick } = recipe;
  if ('paths' in pick && pick.paths.length > MOST_EDITED)
    return (
      <Box sx={{ gridColumn: '1 / -1', color: 'ink2' }}>
        {plural(pick.paths.length, 'path')}, too many to be edited here.
      </Box>
    );
  if ('paths' in pick)
    return (
      <TextField
        sx={{ gridColumn: '1 / -1' }}
        multiline
        minRows={2}
        maxRows={6}
        label={`Paths, ${number(pick.paths.length)}`}
        value={pick.paths.join('\n')}
        onChange={(event) => onChange({ pick: { paths: event.target.value.split('\n') } })}
        slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
      />
    );
  const set = (part: Partial<typeof pick>): void => onChange({ pick: { ...pick, ...part } });
  return (
    <Box sx={{ gridColumn: '1 / -1', display: 'grid', gridTemplateColumns: '2fr 2fr 1fr', gap: 1.5 }}>
      <TextField
        label="Search, looked for anew at each run"
        value={pick.search}
        onChange={(event) => set({ search: event.target.value })}
      />
      <TextField
        label="Below the folder"
        value={pick.folder}
        onChange={(event) => set({ folder: event.target.value })}
      />
      <TextField
        select
        label="Kind"
        value={pick.kind ?? ''}
        onChange={(event) => set({ kind: (event.target.value || null) as typeof pick.kind })}
      >
        {LENSES.map(({ kind, title }) => (
          <MenuItem key={kind} value={kind}>
            {title}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}
