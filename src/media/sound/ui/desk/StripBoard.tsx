'use client';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { StripClip, StripContent } from '@/media/sound/core/board';
import { nameOf } from '@/ui/format';
import { Blank, Failed, Loading } from '@/ui/kit/Blank';
import { sheet } from '@/ui/kit/Screen';
import { SoundView } from '../SoundView';
import { BoardHead } from './BoardHead';
import { StripRow } from './StripRow';
import { useBoard, type OpenBoard } from './use-boards';

/** Sounds one after the other: in which order, how far apart, how loud; heard and saved as one. */
export function StripBoard({ id }: { id: number }) {
  const board = useBoard<StripContent>(id);
  const { data, content, error, placeOf, change } = board;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  if (error && !data) return <Failed error={error} />;
  if (!data || !content) return <Loading what="Opening the strip" />;
  const { clips } = content;
  const ids = clips.map((_clip, i) => i + 1);
  const put = (at: number, clip: StripClip): void =>
    change({ clips: clips.map((one, i) => (i === at ? clip : one)) });
  const isWhole = clips.every((clip) => placeOf(clip)?.entry !== undefined);
  const address = `/api/boards/${id}/sound`;
  return (
    <Box component="section" aria-label="Strip" aria-busy={board.isBusy}>
      <BoardHead board={board}>
        {clips.length > 0 && isWhole && (
          <Button component="a" size="small" variant="outlined" href={`${address}?save`} download>
            Save as WAV
          </Button>
        )}
      </BoardHead>
      {clips.length === 0 ? (
        <Blank title="No clips yet">
          Choose a sound of a game, mark a stretch of it or none, and press <em>To a strip</em> below its
          wave.
        </Blank>
      ) : (
        <>
          <Lane clips={clips} placeOf={placeOf} />
          <Box sx={{ ...sheet, mb: 2 }}>
            <DndContext
              id="strip"
              sensors={sensors}
              collisionDetection={closestCenter}
              onDragEnd={({ active, over }) => {
                if (over && active.id !== over.id)
                  change({ clips: arrayMove(clips, Number(active.id) - 1, Number(over.id) - 1) });
              }}
            >
              <SortableContext items={ids} strategy={verticalListSortingStrategy}>
                {clips.map((clip, i) => (
                  <StripRow
                    key={ids[i]}
                    id={ids[i]!}
                    clip={clip}
                    place={placeOf(clip)}
                    onChange={(next) => put(i, next)}
                    onDouble={() =>
                      change({ clips: [...clips.slice(0, i + 1), clip, ...clips.slice(i + 1)] })
                    }
                    onRemove={() => change({ clips: clips.filter((_one, at) => at !== i) })}
                  />
                ))}
              </SortableContext>
            </DndContext>
          </Box>
          {isWhole ? (
            <>
              <SoundView url={`${address}?v=${data.version}`} label={data.title} />
              <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 1 }}>
                To put it in the place of a sound of a game, choose that one and press <em>Edit…</em>, then{' '}
                <em>{data.title} in its place</em>.
              </Box>
            </>
          ) : (
            <Box sx={{ color: 'look' }}>It can be heard once every clip is there again, or is taken out.</Box>
          )}
        </>
      )}
    </Box>
  );
}

/** Seconds of a clip, where they are known before it is decoded. */
function lengthOf({ from, to }: StripClip, measured: number | null | undefined): number | undefined {
  const end = to ?? measured ?? undefined;
  return end === undefined ? undefined : Math.max(0, end - (from ?? 0));
}

/** What is not measured yet is drawn as long as this. */
const UNKNOWN = 1;

interface Laid {
  readonly clip: StripClip;
  readonly from: number;
  readonly length: number | undefined;
}

/** Where clips begin, as they are joined. */
function laid(clips: readonly StripClip[], measured: (clip: StripClip) => number | undefined): Laid[] {
  const parts: Laid[] = [];
  let end = 0;
  for (const clip of clips) {
    const length = measured(clip);
    const from = Math.max(0, end + clip.gap);
    end = Math.max(end, from + (length ?? UNKNOWN));
    parts.push({ clip, from, length });
  }
  return parts;
}

/** Clips to scale, each where it begins. */
function Lane({ clips, placeOf }: { clips: readonly StripClip[]; placeOf: OpenBoard<never>['placeOf'] }) {
  const parts = laid(clips, (clip) => lengthOf(clip, placeOf(clip)?.entry?.measured?.length));
  const end = parts.reduce((most, { from, length }) => Math.max(most, from + (length ?? UNKNOWN)), 0);
  const share = (seconds: number): string => `${(100 * seconds) / Math.max(end, 0.001)}%`;
  const isSure = parts.every(({ length }) => length !== undefined);
  return (
    <Box sx={{ mb: 1.5 }}>
      <Box
        role="img"
        aria-label={`${clips.length} clips over ${end.toFixed(2)} s`}
        sx={{
          position: 'relative',
          height: 46,
          bgcolor: 'panel',
          border: 1,
          borderColor: 'line',
          borderRadius: 1,
        }}
      >
        {parts.map(({ clip, from, length }, i) => (
          <Box
            key={i}
            title={clip.path}
            sx={{
              position: 'absolute',
              left: share(from),
              width: share(length ?? UNKNOWN),
              top: i % 2 === 0 ? 2 : 23,
              height: 20,
              px: 0.5,
              boxSizing: 'border-box',
              bgcolor: 'tint',
              borderLeft: `2px ${length === undefined ? 'dashed' : 'solid'}`,
              borderColor: 'brass',
              fontSize: 11,
              lineHeight: '20px',
              overflow: 'hidden',
              whiteSpace: 'nowrap',
              textOverflow: 'ellipsis',
            }}
          >
            {i + 1} {nameOf(clip.path)}
          </Box>
        ))}
      </Box>
      <Box className="mono" sx={{ color: 'ink2', fontSize: 12, textAlign: 'right' }}>
        {isSure ? `${end.toFixed(2)} s` : 'drawn to a second where a length is not known yet'}
      </Box>
    </Box>
  );
}
