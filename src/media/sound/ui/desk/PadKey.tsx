'use client';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { CSS } from '@dnd-kit/utilities';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import type { PadClip } from '@/media/sound/core/board';

/** A key of a pad: its letter plays it, its name chooses it. */
export function PadKey({
  name,
  clip,
  isThere,
  isSounding,
  isChosen,
  onPlay,
  onChoose,
}: {
  name: string;
  clip: PadClip | undefined;
  isThere: boolean;
  isSounding: boolean;
  isChosen: boolean;
  onPlay: () => void;
  onChoose: () => void;
}) {
  const {
    setNodeRef: setDragged,
    listeners,
    transform,
    isDragging,
  } = useDraggable({ id: `clip ${name}`, data: { key: name }, disabled: clip === undefined });
  const { setNodeRef, isOver: isUnder, active } = useDroppable({ id: `key ${name}`, data: { key: name } });
  const isOver = isUnder && active?.data.current?.key !== name;
  return (
    <Box
      ref={setNodeRef}
      data-pad-key={name}
      data-sounding={isSounding}
      sx={{
        display: 'flex',
        flexDirection: 'column',
        height: 74,
        minWidth: 0,
        border: isOver || isChosen ? 2 : 1,
        borderStyle: clip ? 'solid' : 'dashed',
        borderColor: isOver || isChosen || isSounding ? 'brass' : 'line',
        borderRadius: 1,
        overflow: isDragging ? 'visible' : 'hidden',
        zIndex: isDragging ? 1 : 'auto',
        bgcolor: isSounding ? 'tint' : clip ? 'background.paper' : 'transparent',
      }}
    >
      <ButtonBase
        disabled={!isThere}
        aria-label={clip ? `Play ${clip.label || clip.path}, key ${name}` : `Key ${name}, empty`}
        onClick={onPlay}
        sx={{
          flex: 1,
          fontFamily: 'inherit',
          fontSize: 17,
          fontWeight: 700,
          textTransform: 'uppercase',
          color: clip ? 'text.primary' : 'ink2',
        }}
      >
        {name}
      </ButtonBase>
      {clip && (
        <ButtonBase
          ref={setDragged}
          {...listeners}
          style={{ transform: CSS.Translate.toString(transform) }}
          aria-label={`Change ${clip.label || clip.path}`}
          title={clip.path}
          onClick={onChoose}
          sx={{
            display: '-webkit-box',
            WebkitBoxOrient: 'vertical',
            WebkitLineClamp: 2,
            mx: 0.5,
            mb: 0.5,
            fontFamily: 'inherit',
            fontSize: 11.5,
            lineHeight: 1.25,
            overflow: 'hidden',
            overflowWrap: 'anywhere',
            textAlign: 'center',
            color: isThere ? 'ink2' : 'bad',
          }}
        >
          {clip.label || clip.path}
        </ButtonBase>
      )}
    </Box>
  );
}
