'use client';
import OpenInFullRounded from '@mui/icons-material/OpenInFullRounded';
import IconButton from '@mui/material/IconButton';
import { PageLink } from '@/ui/kit/PageLink';
import type { LookProps } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';
import { Failed, Loading } from '@/ui/kit/Blank';
import { ModelStage } from './view/ModelStage';
import { useForm, type ShownForm } from './view/use-form';
import { NOTHING_WORN, useModel } from './view/use-model';

/** A model in the inspector. */
export function ModelLook(props: LookProps) {
  const { url, version } = props;
  const { data: shown, error } = useForm(url, version);
  if (error) return <Failed error={error} />;
  if (!shown) return <Loading what="Opening the model" />;
  return <OnStage key={`${url} ${version}`} {...props} shown={shown} />;
}

function OnStage({ gameId, data, changed, shown }: LookProps & { shown: ShownForm }) {
  const { archiveId, index, path } = data;
  const modId = changed?.modId;
  const model = useModel(shown, { gameId, archiveId, index, modId }, NOTHING_WORN);
  return (
    <ModelStage
      {...{ shown, model }}
      label={nameOf(path)}
      height={260}
      more={
        <IconButton
          size="small"
          component={PageLink}
          href={`/games/${gameId}/model?entry=${archiveId}:${index}${changed ? `&mod=${changed.modId}&change=${changed.id}` : ''}`}
          aria-label="Look at it large"
          title="Look at it large"
          sx={{ ml: 'auto' }}
        >
          <OpenInFullRounded fontSize="small" />
        </IconButton>
      }
    />
  );
}
