'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { PageLink } from '../kit/PageLink';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { Recipe } from '@/core/recipe';
import { MEDIA_WAYS } from '@/media/ways';
import type { RecipeView } from '@/server/recipes/recipes';
import { api } from '../api';
import { startDownload } from '../download';
import { plural } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { useAction, useJobs } from '../queries';
import { NEW_RECIPE, RecipeDialog } from './RecipeDialog';

/** What a recipe picks, in words. */
function pickOf({ pick }: Recipe): string {
  if ('paths' in pick) return plural(pick.paths.length, 'path');
  const parts = [
    pick.kind ?? 'everything',
    pick.folder && `below ${pick.folder}`,
    pick.search && `that fits ${pick.search}`,
  ];
  return parts.filter(Boolean).join(' ');
}

const convertedBy = ({ convert }: Recipe): string =>
  MEDIA_WAYS.flatMap(([kind, { ways }]) =>
    ways.filter(({ name }) => convert[kind] === name).map(({ said }) => said),
  ).join(', ');

/** Saved extractions of a game: run again at will, each writing only what changed. */
export function RecipesScreen({ gameId }: { gameId: number }) {
  const { data: recipes, error } = useQuery({
    queryKey: ['recipes', gameId],
    queryFn: () => api.get<RecipeView[]>(`games/${gameId}/recipes`),
  });
  const [open, setOpen] = useState<{ recipe: Recipe; id?: number }>();
  const load = useAction(
    (file: string) => api.post(`games/${gameId}/recipes`, { file }),
    () => enqueueSnackbar('The recipe was taken in.'),
  );
  const drop = useDropzone({
    noClick: true,
    multiple: false,
    onDrop: ([file]) => file && void file.text().then((text) => load.mutate(text)),
  });
  return (
    <Screen
      title="Recipes"
      fact="Each run writes only what is new or changed, and never over what somebody edited."
      actions={
        <>
          <Button variant="outlined" onClick={drop.open} loading={load.isPending}>
            Import…
          </Button>
          <Button variant="contained" onClick={() => setOpen({ recipe: NEW_RECIPE })}>
            New recipe
          </Button>
        </>
      }
    >
      <Box {...drop.getRootProps()} sx={{ minHeight: 300 }}>
        <input {...drop.getInputProps({ 'aria-label': 'File with a recipe' })} />
        {error && <Failed error={error} />}
        {!recipes && !error && <Loading what="Listing the recipes" />}
        {recipes?.length === 0 && (
          <Blank title="No recipes yet">
            Pick entries on the Contents screen and keep them as a recipe, make one here, or drop a file with
            one.
          </Blank>
        )}
        {recipes && recipes.length > 0 && (
          <Box role="list" aria-label="Recipes" sx={sheet}>
            {recipes.map((view) => (
              <Row key={view.id} gameId={gameId} view={view} onOpen={setOpen} />
            ))}
          </Box>
        )}
      </Box>
      {open && <RecipeDialog gameId={gameId} {...open} onClose={() => setOpen(undefined)} />}
    </Screen>
  );
}

function Row({
  gameId,
  view: { id, recipe, lastRun },
  onOpen,
}: {
  gameId: number;
  view: RecipeView;
  onOpen: (open: { recipe: Recipe; id?: number }) => void;
}) {
  const { data: jobs } = useJobs();
  const run = useAction(() => api.post(`games/${gameId}/recipes/${id}`));
  const download = useAction(
    () => api.post<{ ticket: string }>(`games/${gameId}/recipes/${id}/download`),
    ({ ticket }) => startDownload(ticket),
  );
  const remove = useAction(() => api.remove(`games/${gameId}/recipes/${id}`));
  // The list of jobs is kept current by events.
  const job = lastRun && (jobs?.find((one) => one.id === lastRun.id) ?? lastRun);
  const converted = convertedBy(recipe);
  return (
    <Box
      role="listitem"
      aria-label={recipe.title}
      sx={{ px: 2, py: 1.5, borderBottom: 1, borderColor: 'line', '&:last-child': { borderBottom: 0 } }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Box sx={{ fontWeight: 700 }}>{recipe.title}</Box>
          <Box sx={{ color: 'ink2', overflowWrap: 'anywhere' }}>
            {pickOf(recipe)}
            {converted && `, ${converted}`}, to <span className="mono">{recipe.folder}</span>
          </Box>
        </Box>
        <Button size="small" onClick={() => onOpen({ recipe, id })}>
          Edit
        </Button>
        <Button
          size="small"
          onClick={() => onOpen({ recipe: { ...recipe, title: `${recipe.title}, copy` } })}
        >
          Duplicate
        </Button>
        <Button size="small" component="a" href={`/api/games/${gameId}/recipes/${id}`}>
          Export
        </Button>
        <Button size="small" loading={download.isPending} onClick={() => download.mutate(undefined)}>
          Download
        </Button>
        <Button size="small" color="error" onClick={() => remove.mutate(undefined)}>
          Remove
        </Button>
        <Button variant="contained" loading={run.isPending} onClick={() => run.mutate(undefined)}>
          Run
        </Button>
      </Box>
      {job && <JobLine job={job} isTitled={false} />}
      {job?.state === 'done' && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
          <Button size="small" variant="outlined" component={PageLink} href={`/activity?job=${job.id}`}>
            What came of each file
          </Button>
          <Button
            size="small"
            onClick={() =>
              void navigator.clipboard
                .writeText(recipe.folder)
                .then(() => enqueueSnackbar('The path of the folder is on the clipboard.'))
            }
          >
            Copy the folder’s path
          </Button>
        </Box>
      )}
    </Box>
  );
}
