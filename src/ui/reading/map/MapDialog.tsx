'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { Failed, Loading } from '../../kit/Blank';
import type { ReadingView, SetView } from '../reading-state';
import { useMap } from '../use-reading';
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
  return (
    <Dialog open onClose={onClose} fullScreen aria-labelledby="map-title">
      {!data && (
        <span id="map-title" hidden>
          Map
        </span>
      )}
      {error && !data && (
        <Box>
          <Failed error={error} />
          <Box sx={{ display: 'flex', gap: 1, px: 3 }}>
            <Button onClick={() => onView({ over: 'words' })}>Words for steps and maps</Button>
            <Button onClick={onClose}>Close</Button>
          </Box>
        </Box>
      )}
      {!data && !error && <Loading what="Laying out the map" />}
      {data && (
        <MapStage
          key={`${table} ${view.row}`}
          {...{ gameId, onGo, onClose }}
          map={data}
          spot={view.spot}
          onSpot={(spot) => onView({ spot })}
          onWords={() => onView({ over: 'words', value: data.words, spot: '' })}
        />
      )}
    </Dialog>
  );
}
