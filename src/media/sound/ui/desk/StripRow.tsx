'use client';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import CloseRounded from '@mui/icons-material/CloseRounded';
import ContentCopyRounded from '@mui/icons-material/ContentCopyRounded';
import DragIndicatorRounded from '@mui/icons-material/DragIndicatorRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { PageLink } from '@/ui/kit/PageLink';
import type { StripClip } from '@/media/sound/core/board';
import type { ClipPlace } from '@/server/boards/clip-places';
import { nameOf } from '@/ui/format';
import { TakeButton } from '../TakeButton';
import { NumberField } from '@/ui/kit/NumberField';

type Numbers = 'from' | 'to' | 'gap' | 'gain' | 'fadeIn' | 'fadeOut';
interface Column {
  readonly name: Numbers;
  readonly title: string;
  readonly unit: 's' | 'dB';
  readonly least: number;
  readonly most: number;
  readonly empty?: string;
}
const COLUMNS: readonly Column[] = [
  { name: 'gap', title: 'Gap before', unit: 's', least: -3600, most: 3600 },
  { name: 'from', title: 'From', unit: 's', least: 0, most: 86_400, empty: 'start' },
  { name: 'to', title: 'To', unit: 's', least: 0, most: 86_400, empty: 'end' },
  { name: 'gain', title: 'Louder by', unit: 'dB', least: -60, most: 60 },
  { name: 'fadeIn', title: 'Fade in', unit: 's', least: 0, most: 3600 },
  { name: 'fadeOut', title: 'Fade out', unit: 's', least: 0, most: 3600 },
];

/** A clip of a strip, and how it stands there. */
export function StripRow({
  id,
  clip,
  place,
  onChange,
  onDouble,
  onRemove,
}: {
  id: number;
  clip: StripClip;
  place: ClipPlace | undefined;
  onChange: (clip: StripClip) => void;
  onDouble: () => void;
  onRemove: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const name = nameOf(clip.path);
  const entry = place?.entry;
  return (
    <Box
      ref={setNodeRef}
      role="group"
      aria-label={`Clip ${id}, ${name}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      sx={{
        display: 'flex',
        alignItems: 'center',
        flexWrap: 'wrap',
        columnGap: 1,
        px: 1,
        py: 0.5,
        borderTop: id === 1 ? 0 : 1,
        borderColor: 'line',
        bgcolor: 'background.paper',
      }}
    >
      <IconButton
        size="small"
        aria-label={`Move clip ${id}`}
        {...attributes}
        {...listeners}
        sx={{ cursor: 'grab' }}
      >
        <DragIndicatorRounded fontSize="small" />
      </IconButton>
      {entry && <TakeButton gameId={clip.game} entry={entry} label={name} />}
      <Box sx={{ flex: '1 1 130px', minWidth: 0 }}>
        <Box
          className="mono"
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
          title={clip.path}
        >
          {entry ? (
            <Box
              component={PageLink}
              href={`/games/${clip.game}/contents?entry=${entry.archiveId}:${entry.index}`}
              sx={{ color: 'inherit' }}
            >
              {name}
            </Box>
          ) : (
            name
          )}
        </Box>
        <Box sx={{ color: entry ? 'ink2' : 'bad', fontSize: 11.5 }}>
          {entry
            ? `${clip.archive}, ${place.gameTitle}`
            : place && 'why' in place
              ? place.why
              : 'being looked for'}
        </Box>
      </Box>
      {COLUMNS.map(({ name: field, title, unit, least, most, empty }) => (
        <Box key={field} component="label" sx={{ fontSize: 11, color: 'ink2' }}>
          {title}
          <Box>
            <NumberField
              label={`${title} of clip ${id}`}
              value={clip[field]}
              {...{ unit, least, most }}
              {...(empty !== undefined && { empty })}
              onKeep={(value) => {
                const next: StripClip = { ...clip };
                if (value !== undefined) next[field] = value;
                else if (field === 'from' || field === 'to') delete next[field];
                onChange(next);
              }}
            />
          </Box>
        </Box>
      ))}
      <IconButton
        size="small"
        aria-label={`Once more clip ${id}`}
        title="Once more behind it"
        onClick={onDouble}
      >
        <ContentCopyRounded fontSize="small" />
      </IconButton>
      <IconButton size="small" aria-label={`Take clip ${id} out`} title="Take it out" onClick={onRemove}>
        <CloseRounded fontSize="small" />
      </IconButton>
    </Box>
  );
}
