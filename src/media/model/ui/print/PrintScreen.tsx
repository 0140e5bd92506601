'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useQuery } from '@tanstack/react-query';
import { PageLink } from '@/ui/kit/PageLink';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import type { EntryDetail } from '@/server/looking/preview';
import { api } from '@/ui/api';
import { nameOf, plural } from '@/ui/format';
import { keepText, useKeptText } from '@/ui/kept-text';
import { Failed, Loading } from '@/ui/kit/Blank';
import { Screen } from '@/ui/kit/Screen';
import { useHues } from '@/ui/kit/use-hues';
import { PrintSettings } from '../../core/print/settings';
import { yUp } from '../../core/print/solid';
import { ChosenModel, type ModelPlace } from '../ChosenModel';
import { ModelStage } from '../view/ModelStage';
import { NOTHING_WORN, useModel } from '../view/use-model';
import type { ShownForm } from '../view/use-form';
import { FindingsTable, MARK_HUES, mendsSaid, type MarkSort } from './FindingsTable';
import { PiecesTable } from './PiecesTable';
import { PrintSide } from './PrintSide';
import { usePrint, type PrintStage, type ShownPrint } from './use-print';

/** What is remembered of a printer, for the next model. */
const KEPT = 'zero-latch printer';
const Kept = PrintSettings.pick({ bed: true, wall: true, isFlat: true }).partial();

/** A model as it would be printed: checked, mended, cut and laid on the bed. */
export const PrintScreen = ({ gameId }: { gameId: number }) => (
  <ChosenModel
    {...{ gameId }}
    how={
      <>
        Choose a model, look at it large, and press <em>For printing</em>.
      </>
    }
  >
    {(place) => <OnePrint key={`${place.archiveId}:${place.index}`} {...place} />}
  </ChosenModel>
);

function read(text: string | null, kept: string | null): PrintSettings {
  const remembered = Kept.safeParse(jsonOf(kept)).data ?? {};
  const given = PrintSettings.safeParse({ ...remembered, ...(jsonOf(text) as object) });
  return given.success ? given.data : PrintSettings.parse({});
}

function jsonOf(text: string | null): unknown {
  try {
    return JSON.parse(text ?? '{}') ?? {};
  } catch {
    return {};
  }
}

function OnePrint({ gameId, archiveId, index }: ModelPlace) {
  const query = useSearchParams();
  const kept = useKeptText(KEPT);
  const text = query.get('settings');
  const settings = useMemo(() => read(text, kept), [text, kept]);
  const entryUrl = `/api/games/${gameId}/entries/${archiveId}/${index}`;
  const detail = useQuery<EntryDetail>({
    queryKey: ['entry', gameId, archiveId, index],
    queryFn: () => api.get(`games/${gameId}/entries/${archiveId}/${index}`),
    retry: false,
  });
  const asked = JSON.stringify(settings);
  const { print, error, isFetching } = usePrint(entryUrl, asked);
  const [stage, setStage] = useState<PrintStage>('mended');
  const [mark, setMark] = useState<MarkSort>();
  // Each change is a step of the browser's own history, so that going back undoes it; nothing of it is asked of the server.
  const change = (to: Partial<PrintSettings>): void => {
    const next = { ...settings, ...to };
    const { bed, wall, isFlat } = next;
    keepText(KEPT, JSON.stringify({ bed, wall, isFlat }));
    const params = new URLSearchParams(query);
    params.set('settings', JSON.stringify(next));
    window.history.pushState(null, '', `/games/${gameId}/model/print?${params}`);
  };
  const fileUrl = (as: '3mf' | 'stl'): string =>
    `${entryUrl}/print/file?${new URLSearchParams({ as, settings: asked })}`;
  if (detail.error) return <Failed error={detail.error} />;
  const { report } = print ?? {};
  return (
    <Screen
      title={detail.data ? nameOf(detail.data.path) : 'Printing'}
      fact={report ? factOf(report) : 'For printing'}
      actions={
        <>
          <Button
            size="small"
            component={PageLink}
            href={`/games/${gameId}/model?entry=${archiveId}:${index}`}
          >
            Back to the model
          </Button>
          <Button size="small" href={fileUrl('stl')} disabled={!print || error !== null}>
            Take it as STL
          </Button>
          <Button size="small" variant="contained" href={fileUrl('3mf')} disabled={!print || error !== null}>
            Take it as 3MF
          </Button>
        </>
      }
      side={<PrintSide {...{ settings, report }} onChange={change} />}
    >
      <Box sx={{ height: 4, mb: 0.5 }}>{isFetching && <LinearProgress aria-label="Working it out" />}</Box>
      {error && <Failed error={error} />}
      {!error && !print && <Loading what="Looking for holes, shells and thin walls" />}
      {!error && print && (
        <>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="What is shown"
            value={stage}
            onChange={(_event, next: PrintStage | null) => next && setStage(next)}
            sx={{ mb: 1 }}
          >
            <ToggleButton value="found">As it is</ToggleButton>
            <ToggleButton value="mended">Mended</ToggleButton>
            <ToggleButton value="bed">On the bed</ToggleButton>
          </ToggleButtonGroup>
          <PrintStageView
            key={stage}
            {...{ print, mark }}
            bed={settings.bed}
            shown={print.shown[stage]}
            stage={stage}
            label={detail.data ? nameOf(detail.data.path) : ''}
          />
          <Told print={print} />
          <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', xl: '1fr 1fr' }, mt: 1.5 }}>
            <FindingsTable report={print.report} chosen={mark} onChoose={setMark} />
            <PiecesTable pieces={print.report.pieces} />
          </Box>
        </>
      )}
    </Screen>
  );
}

const factOf = ({ scale, pieces }: ShownPrint['report']): string =>
  `1 to ${(1 / scale).toPrecision(3)}, ${plural(pieces.length, 'piece')}${
    pieces.every(({ isWatertight }) => isWatertight) ? ', watertight' : ', not closed'
  }${pieces.every(({ hasRoom }) => hasRoom) ? '' : ', too large for the bed'}`;

/** What mending added and lost, and what could not be done. */
function Told({ print: { report } }: { print: ShownPrint }) {
  const said = mendsSaid(report);
  return (
    <Box role="status" sx={{ mt: 1, fontSize: 13 }}>
      {said.length > 0 && <Box sx={{ color: 'ink2' }}>{said.join('. ')}.</Box>}
      {report.refused.map((why) => (
        <Box key={why} sx={{ fontWeight: 600 }}>
          {why}.
        </Box>
      ))}
    </Box>
  );
}

function PrintStageView({
  print: { marks },
  shown,
  stage,
  mark,
  label,
  bed,
}: {
  readonly print: ShownPrint;
  readonly shown: ShownForm;
  readonly stage: PrintStage;
  readonly mark: MarkSort | undefined;
  readonly label: string;
  readonly bed: PrintSettings['bed'];
}) {
  const hues = useHues();
  const model = useModel(shown, { gameId: 0, archiveId: 0, index: 0, modId: undefined }, NOTHING_WORN);
  const lines = useMemo(() => {
    if (stage === 'bed') return [{ hue: hues.lines, points: yUp(rimOf(bed)) }];
    return (Object.keys(MARK_HUES) as MarkSort[])
      .filter((sort) => mark === undefined || sort === mark)
      .map((sort) => ({ hue: MARK_HUES[sort], points: yUp(marks[stage][sort]) }));
  }, [marks, mark, stage, bed, hues]);
  return <ModelStage {...{ shown, model, label, lines }} height="clamp(240px, calc(100vh - 470px), 900px)" />;
}

/** The rim of the bed as lines. */
const rimOf = ({ x, y }: PrintSettings['bed']): number[] =>
  [
    [0, 0, x, 0],
    [x, 0, x, y],
    [x, y, 0, y],
    [0, y, 0, 0],
  ].flatMap(([ax, ay, bx, by]) => [ax!, ay!, 0, bx!, by!, 0]);
