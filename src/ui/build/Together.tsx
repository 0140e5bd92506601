'use client';
import DragIndicatorRounded from '@mui/icons-material/DragIndicatorRounded';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import type { ModView } from '@/server/mods/mods';
import { api } from '../api';
import { plural } from '../format';
import { useAction } from '../queries';

/** Which mods are built along with the one that is worked on, and in which order. */
export function Together({ gameId, mods, own }: { gameId: number; mods: readonly ModView[]; own: number }) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const order = useAction((ids: number[]) => api.patch(`games/${gameId}/mods`, { order: ids }));
  const ids = order.isPending ? order.variables : mods.map(({ id }) => id);
  const titleOf = (id: UniqueIdentifier): string => mods.find((mod) => mod.id === id)?.title ?? '';
  const placeOf = (id: UniqueIdentifier | undefined): string =>
    id === undefined ? '' : `, place ${ids.indexOf(Number(id)) + 1} of ${ids.length}`;
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${titleOf(active.id)} is picked up${placeOf(active.id)}.`,
    onDragOver: ({ active, over }) => `${titleOf(active.id)}${placeOf(over?.id)}.`,
    onDragEnd: ({ active, over }) => `${titleOf(active.id)} is put down${placeOf(over?.id)}.`,
    onDragCancel: ({ active }) => `${titleOf(active.id)} stays where it was.`,
  };
  const moved = ({ active, over }: DragEndEvent): void => {
    if (!over || active.id === over.id) return;
    order.mutate(arrayMove([...ids], ids.indexOf(Number(active.id)), ids.indexOf(Number(over.id))));
  };
  return (
    <Box component="section" aria-label="Built together" sx={{ mb: 3 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Built together
      </Typography>
      <Typography sx={{ color: 'ink2', fontSize: 13, mb: 1 }}>
        Of mods that change the same, the lower one has its way. Drag to put them in order.
      </Typography>
      <DndContext
        id="mods-together"
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={{ announcements }}
        onDragEnd={moved}
      >
        <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
          {ids.map((id) => {
            const mod = mods.find((one) => one.id === id);
            return mod && <Row key={id} gameId={gameId} mod={mod} isOwn={id === own} />;
          })}
        </SortableContext>
      </DndContext>
    </Box>
  );
}

function Row({ gameId, mod, isOwn }: { gameId: number; mod: ModView; isOwn: boolean }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: mod.id,
  });
  const set = useAction((together: boolean) => api.patch(`games/${gameId}/mods/${mod.id}`, { together }));
  return (
    <Box
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      sx={{ display: 'flex', alignItems: 'center', borderBottom: 1, borderColor: 'line', bgcolor: 'panel' }}
    >
      <IconButton
        ref={setActivatorNodeRef}
        size="small"
        aria-label={`Move ${mod.title}`}
        {...attributes}
        {...listeners}
      >
        <DragIndicatorRounded fontSize="small" />
      </IconButton>
      <FormControlLabel
        sx={{ flex: 1, mr: 0, minWidth: 0 }}
        slotProps={{
          typography: { sx: { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } },
        }}
        control={
          <Checkbox
            size="small"
            checked={isOwn || (set.isPending ? set.variables : mod.together)}
            disabled={isOwn}
            onChange={(_event, checked) => set.mutate(checked)}
          />
        }
        label={mod.title}
      />
      <Box sx={{ color: 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }}>
        {isOwn ? 'worked on' : plural(mod.changes, 'change')}
      </Box>
    </Box>
  );
}
