'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useQuery } from '@tanstack/react-query';
import { PageLink } from '@/ui/kit/PageLink';
import { useRouter, useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import type { EntryDetail } from '@/server/looking/preview';
import { api } from '@/ui/api';
import { parseEntry } from '@/ui/contents/url-state';
import { nameOf, number, plural } from '@/ui/format';
import { Failed, Loading } from '@/ui/kit/Blank';
import { Screen } from '@/ui/kit/Screen';
import { useMod } from '@/ui/use-mod';
import { BonePanel } from './view/BonePanel';
import { ClipsFrom } from './view/ClipsFrom';
import { PartsPanel } from './view/PartsPanel';
import { PicturesPanel } from './view/PicturesPanel';
import { ShapesPanel } from './view/ShapesPanel';
import { ModelStage } from './view/ModelStage';
import { clipOn, useForm, type ShownForm } from './view/use-form';
import { NOTHING_WORN, useModel } from './view/use-model';
import { lengthSaid } from './view/view-state';
import { ChosenModel, type ModelPlace } from './ChosenModel';
import { TakeDialog } from './TakeDialog';
import { finestLevel } from '../core/form/form';
import { withColours } from '../core/take';
import type { PackedForm } from '../core/view/pack';

/** One model, large: turned, taken apart, painted, and moved by its clips or by those of another file. */
export const ModelScreen = ({ gameId }: { gameId: number }) => (
  <ChosenModel
    {...{ gameId }}
    how={
      <>
        Choose a model in the contents and press <em>Look at it large</em> below it.
      </>
    }
  >
    {(place) => <OneModel key={`${place.archiveId}:${place.index}`} {...place} />}
  </ChosenModel>
);

function OneModel(where: ModelPlace) {
  const { gameId, archiveId, index } = where;
  const query = useSearchParams();
  const change = query.get('change');
  const modOfChange = query.get('mod');
  const entryUrl = `/api/games/${gameId}/entries/${archiveId}/${index}`;
  const isChanged = change !== null && modOfChange !== null;
  const url = isChanged ? `/api/games/${gameId}/mods/${modOfChange}/changes/${change}` : entryUrl;
  const detail = useQuery<EntryDetail>({
    queryKey: ['entry', gameId, archiveId, index],
    queryFn: () => api.get(`games/${gameId}/entries/${archiveId}/${index}`),
    retry: false,
  });
  const { data, error } = useForm(url, '');
  const shown = useMemo(() => data && { ...data, form: withColours(data.form) }, [data]);
  if (error ?? detail.error) return <Failed error={error ?? detail.error} />;
  if (!shown || !detail.data) return <Loading what="Opening the model" />;
  return <Loaded key={url} {...where} {...{ shown, isChanged }} path={detail.data.path} />;
}

function Loaded({
  gameId,
  archiveId,
  index,
  shown,
  path,
  isChanged,
}: ModelPlace & { shown: ShownForm; path: string; isChanged: boolean }) {
  const { mod } = useMod(gameId);
  const router = useRouter();
  const query = useSearchParams();
  const asMod = query.get('painted') === 'mod' && mod !== undefined;
  const modId = asMod || isChanged ? mod?.id : undefined;
  const [isTaking, setTaking] = useState(false);
  const [worn, setWorn] = useState(NOTHING_WORN);
  const model = useModel(shown, { gameId, archiveId, index, modId }, worn);
  const other = query.get('clips') ?? '';
  const { data: clips, error: clipsError } = useOther(gameId, other);
  const to = (changes: Readonly<Record<string, string | undefined>>): void => {
    const next = new URLSearchParams(query);
    for (const [name, value] of Object.entries(changes))
      if (value === undefined) next.delete(name);
      else next.set(name, value);
    router.replace(`/games/${gameId}/model?${next}`);
  };
  const missing =
    clips && model.bones && clips.form.clips[model.view.clip]
      ? clipOn(clips, model.view.clip, model.bones).missing
      : [];
  return (
    <Screen
      title={nameOf(path)}
      fact={factOf(shown.form)}
      actions={
        <>
          {mod && (
            <ToggleButtonGroup
              exclusive
              size="small"
              aria-label="Whose pictures"
              value={asMod ? 'mod' : 'game'}
              onChange={(_event, next: string | null) =>
                next && to({ painted: next === 'mod' ? 'mod' : undefined })
              }
            >
              <ToggleButton value="game" sx={{ py: 0.1 }}>
                Painted as it is
              </ToggleButton>
              <ToggleButton value="mod" sx={{ py: 0.1 }} title={`With the pictures of ${mod.title}`}>
                As changed
              </ToggleButton>
            </ToggleButtonGroup>
          )}
          {!isChanged && (
            <Button size="small" onClick={() => setTaking(true)}>
              Take it out
            </Button>
          )}
          {!isChanged && shown.form.parts.length > 0 && (
            <Button
              size="small"
              component={PageLink}
              href={`/games/${gameId}/model/print?entry=${archiveId}:${index}`}
            >
              For printing
            </Button>
          )}
          <Button
            size="small"
            component={PageLink}
            href={`/games/${gameId}/contents?entry=${archiveId}:${index}`}
          >
            In the contents
          </Button>
        </>
      }
      side={
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 2.5 }}>
          <PartsPanel {...{ shown, model }} />
          <PicturesPanel
            {...{ gameId, shown, model, worn, path }}
            onWorn={(of, picture) =>
              setWorn((before) => {
                const next = new Map(before);
                if (picture) next.set(of, picture);
                else next.delete(of);
                return next;
              })
            }
          />
          {shown.form.parts.some(({ shapes }) => shapes.length > 0) && <ShapesPanel {...{ shown, model }} />}
          {shown.form.bones.length > 0 && <BonePanel {...{ shown, model }} />}
          {shown.form.bones.length > 0 && (
            <ClipsFrom
              {...{ gameId, archiveId, index, path, other, missing }}
              error={clipsError}
              onOther={(entry) => {
                model.change({ clip: -1 });
                to({ clips: entry });
              }}
            />
          )}
        </Box>
      }
    >
      <ModelStage {...{ shown, model, clips }} label={nameOf(path)} height="calc(100vh - 310px)" />
      {isTaking && (
        <TakeDialog
          {...{ gameId, path, worn }}
          entryUrl={`/api/games/${gameId}/entries/${archiveId}/${index}`}
          form={shown.form}
          clipsForm={(clips ?? shown).form}
          clipsOf={clips ? other : ''}
          hidden={model.view.hidden}
          onClose={() => setTaking(false)}
        />
      )}
    </Screen>
  );
}

/** The model whose clips are played on this one. */
function useOther(
  gameId: number,
  entry: string,
): { readonly data: ShownForm | undefined; readonly error: Error | null } {
  const chosen = parseEntry(entry);
  const isChosen = chosen !== undefined;
  const url = chosen ? `/api/games/${gameId}/entries/${chosen.archiveId}/${chosen.index}` : '';
  const { data, error } = useForm(url, 'clips');
  return { data: isChosen ? data : undefined, error: isChosen ? error : null };
}

function factOf({ parts, bones, clips, box, unit }: PackedForm): string {
  const least = finestLevel(parts);
  const finest = parts.filter(({ level }) => level === least);
  const sum = (of: 'triangles' | 'vertices'): number => finest.reduce((all, part) => all + part[of], 0);
  const sides = box ? [0, 1, 2].map((i) => box.high[i]! - box.low[i]!) : [];
  return [
    `${number(sum('triangles'))} triangles`,
    `${number(sum('vertices'))} vertices`,
    plural(finest.length, 'part'),
    ...(bones.length > 0 ? [plural(bones.length, 'bone')] : []),
    ...(clips.length > 0 ? [plural(clips.length, 'clip')] : []),
    ...(sides.length > 0 ? [sides.map(lengthSaid).join(' x ')] : []),
    ...(unit === 1 ? [] : [`a unit is ${lengthSaid(unit)}`]),
  ].join(', ');
}
