'use client';
import { DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import StopRounded from '@mui/icons-material/StopRounded';
import VolumeUpRounded from '@mui/icons-material/VolumeUpRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { useMemo, useState } from 'react';
import { PAD_ROWS, type PadClip, type PadContent } from '@/media/sound/core/board';
import { Failed, Loading } from '@/ui/kit/Blank';
import { BoardHead } from './BoardHead';
import { OutputChoice } from './OutputChoice';
import { PadKey } from './PadKey';
import { PadKeySide } from './PadKeySide';
import type { PadSound } from './pad-player';
import { useBoard } from './use-boards';
import { usePad } from './use-pad';

/** Sounds on the keys of the keyboard. */
export function PadBoard({ id }: { id: number }) {
  const board = useBoard<PadContent>(id);
  const { data, content, error, placeOf, change } = board;
  const [chosen, setChosen] = useState<string>();
  const sounds = useMemo(() => {
    const found = new Map<string, PadSound>();
    for (const { key, from, to, gain, game, archive, path } of content?.clips ?? []) {
      const at = data?.content.clips.findIndex(
        (one) => one.game === game && one.archive === archive && one.path === path,
      );
      const entry = at === undefined || at < 0 ? undefined : data?.places[at]?.entry;
      if (!entry) continue;
      const address = `/api/games/${game}/entries/${entry.archiveId}/${entry.index}/raw?v=${entry.storedSize}`;
      found.set(key, {
        key,
        gain,
        address,
        ...(from !== undefined && { from }),
        ...(to !== undefined && { to }),
      });
    }
    return found;
  }, [content, data]);
  const pad = usePad(sounds);
  // A press that does not move is none of a drag.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  if (error && !data) return <Failed error={error} />;
  if (!data || !content) return <Loading what="Opening the pad" />;
  const { clips } = content;
  const onKey = (key: string): PadClip | undefined => clips.find((clip) => clip.key === key);
  const put = (clip: PadClip): void =>
    change({ clips: clips.map((one) => (one.key === clip.key ? clip : one)) });
  /** What is on two keys changes places. */
  const move = (from: string, to: string): void => {
    if (from === to) return;
    change({
      clips: clips.map((one) =>
        one.key === from ? { ...one, key: to } : one.key === to ? { ...one, key: from } : one,
      ),
    });
    setChosen(to);
  };
  const now = chosen === undefined ? undefined : onKey(chosen);
  return (
    <Box component="section" aria-label="Pad" aria-busy={board.isBusy}>
      <BoardHead board={board} />
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 2, mb: 2 }}>
        <Button
          variant="outlined"
          startIcon={<StopRounded />}
          title="Esc"
          disabled={pad.sounding.size === 0}
          onClick={pad.stopAll}
        >
          Stop all
        </Button>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, width: 190 }}>
          <VolumeUpRounded fontSize="small" />
          <Slider
            size="small"
            aria-label="Volume"
            value={pad.volume}
            min={0}
            max={1}
            step={0.05}
            onChange={(_event, share) => pad.setVolume(share as number)}
          />
        </Box>
        {pad.canChoose && <OutputChoice value={pad.output} onChoose={pad.choose} />}
      </Box>
      <DndContext
        id="pad"
        sensors={sensors}
        onDragEnd={({ active, over }) => {
          if (over) move(String(active.data.current!.key), String(over.data.current!.key));
        }}
      >
        <Box sx={{ display: 'grid', gap: 0.75, overflowX: 'auto', pb: 1 }}>
          {PAD_ROWS.map((row, i) => (
            <Box
              key={row}
              sx={{
                display: 'grid',
                gridTemplateColumns: 'repeat(10, minmax(64px, 1fr))',
                gap: 0.75,
                pl: `${i * 12}px`,
              }}
            >
              {[...row].map((key) => (
                <PadKey
                  key={key}
                  name={key}
                  clip={onKey(key)}
                  isThere={sounds.has(key)}
                  isSounding={pad.sounding.has(key)}
                  isChosen={key === chosen}
                  onPlay={() => pad.play(key)}
                  onChoose={() => setChosen(key === chosen ? undefined : key)}
                />
              ))}
            </Box>
          ))}
        </Box>
      </DndContext>
      {now ? (
        <PadKeySide
          key={now.key}
          clip={now}
          place={placeOf(now)}
          onChange={put}
          onMove={(to) => move(now.key, to)}
          onRemove={() => {
            change({ clips: clips.filter((one) => one !== now) });
            setChosen(undefined);
          }}
        />
      ) : (
        <Box sx={{ color: 'ink2', fontSize: 13, mt: 1 }}>
          {clips.length === 0
            ? 'No clips yet. Choose a sound of a game, mark a stretch of it or none, and press To a pad below its wave.'
            : 'A key plays its clip, pressed again from the start; Esc stops all. Drag a clip onto another key; press its name to change it.'}
        </Box>
      )}
    </Box>
  );
}
