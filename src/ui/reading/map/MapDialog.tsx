'use client';
import { useContext } from 'react';
import type { ReadingView, SetView } from '../reading-state';
import { StageDialog } from '../StageDialog';
import { ReadingMod, useMap } from '../use-reading';
import { MapStage } from './MapStage';

interface Props {
  readonly gameId: number;
  readonly table: string;
  readonly view: ReadingView;
  readonly onView: SetView;
  readonly onGo: (table: string, row: number) => void;
  readonly onClose: () => void;
}

/** A place as a map: its tiles, what stands on it, also outside of what the game shows, walked by keyboard. */
export function MapDialog({ gameId, table, view, onView, onGo, onClose }: Props) {
  const { data, error } = useMap(gameId, table, view.row);
  const modId = useContext(ReadingMod);
  return (
    <StageDialog
      {...{ data, error, onClose }}
      title="Map"
      titleId="map-title"
      loading="Laying out the map"
      onWords={() => onView({ over: 'words' })}
    >
      {(map) => (
        <MapStage
          key={`${table} ${view.row}`}
          {...{ gameId, map, modId, table, onGo, onClose }}
          row={Number(view.row)}
          spot={view.spot}
          onSpot={(spot) => onView({ spot })}
          onWords={() => onView({ over: 'words', value: map.words, spot: '' })}
        />
      )}
    </StageDialog>
  );
}
