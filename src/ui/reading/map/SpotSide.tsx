'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { memo, useMemo, useState, type Ref } from 'react';
import type { Spot } from '@/media/table/core/places/grid';
import type { MapView, ThingView } from '@/server/reading/map-view';
import { number } from '../../format';
import { RowLink } from '../RowLink';

interface Props {
  readonly map: MapView;
  readonly spot: Spot;
  readonly onSpot: (spot: Spot) => void;
  readonly onGo: (table: string, row: number) => void;
  /** Back to the map. */
  readonly onBack: () => void;
  readonly ref: Ref<HTMLDivElement>;
}

const MOST_LISTED = 200;

/** What lies on a spot, and all things of the map to be looked for. */
export function SpotSide({ map, spot, onSpot, onGo, onBack, ref }: Props) {
  const { across, down } = spot;
  const isOnMap = across >= 0 && down >= 0 && across < map.wide && down < map.high;
  const tiles = map.layers.flatMap(({ field, spots }) => {
    const tile = isOnMap ? (spots[down * map.wide + across] ?? -1) : -1;
    return tile < 0 ? [] : [{ field, tile: map.tiles[tile]! }];
  });
  const here = map.things.filter((thing) => thing.across === across && thing.down === down);
  return (
    <Box
      ref={ref}
      component="section"
      aria-label="The spot"
      // Escape goes back to the map before it closes it.
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onBack();
      }}
      sx={{
        ...{
          borderLeft: 1,
          borderColor: 'line',
          bgcolor: 'panel',
          overflow: 'auto',
          flex: 1,
          minHeight: 0,
          p: 1.5,
        },
        ...{ fontSize: 14 },
      }}
    >
      <Box id="map-spot" role="status" aria-label="Where one is" sx={{ fontWeight: 600 }}>
        {across} across, {down} down:{' '}
        {tiles.map(({ tile }) => tile.title).join(', ') || 'nothing of the place'}
        {here.length > 0 && `; ${here.map(({ title }) => title).join(', ')}`}
      </Box>
      <Box data-here sx={{ mt: 0.5 }}>
        {tiles.map(({ field, tile }) => (
          <Box key={field} sx={{ py: 0.25 }}>
            <Box component="span" sx={{ color: 'ink2', fontSize: 13 }}>
              {field}{' '}
            </Box>
            {tile.to ? <RowLink to={tile.to} onGo={onGo} /> : tile.title}
          </Box>
        ))}
        {here.map((thing) => (
          <Thing key={`${thing.to.table} ${thing.to.row}`} {...{ thing, onGo }} />
        ))}
      </Box>
      <ThingList {...{ map, onSpot, onBack }} />
    </Box>
  );
}

/** All things of the map, to be looked for; it is made anew only when something is looked for. */
const ThingList = memo(function ThingList({ map, onSpot, onBack }: Pick<Props, 'map' | 'onSpot' | 'onBack'>) {
  const [text, setText] = useState('');
  const found = useMemo(() => {
    const low = text.trim().toLocaleLowerCase();
    return map.things.filter(({ title, is }) =>
      [title, ...is.map((one) => one.title)].some((one) => one.toLocaleLowerCase().includes(low)),
    );
  }, [map, text]);
  return (
    <>
      <Typography variant="h2" sx={{ fontSize: 13, fontWeight: 700, mt: 2, mb: 0.75 }}>
        On this map
      </Typography>
      <TextField
        fullWidth
        size="small"
        label="Find a thing"
        value={text}
        onChange={({ target }) => setText(target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !found[0]) return;
          onSpot(found[0]);
          onBack();
        }}
      />
      <Box component="ul" aria-label="Things" sx={{ listStyle: 'none', m: 0, mt: 0.75, p: 0 }}>
        {found.slice(0, MOST_LISTED).map((thing) => (
          <li key={`${thing.to.table} ${thing.to.row}`}>
            <Button
              size="small"
              fullWidth
              onClick={() => onSpot(thing)}
              sx={{ justifyContent: 'flex-start', textAlign: 'left', gap: 0.75, fontWeight: 500 }}
            >
              <span>{thing.title}</span>
              <Box component="span" className="mono" sx={{ color: 'ink2', fontSize: 12 }}>
                {thing.across}:{thing.down}
              </Box>
              {thing.isOutside && (
                <Box component="span" sx={{ color: 'ink2', fontSize: 12 }}>
                  outside
                </Box>
              )}
            </Button>
          </li>
        ))}
      </Box>
      {found.length === 0 && (
        <Box sx={{ color: 'ink2', py: 1 }}>
          {text === '' ? 'Nothing stands here.' : 'Nothing is called so.'}
        </Box>
      )}
      {found.length > MOST_LISTED && (
        <Box sx={{ color: 'ink2', py: 1 }}>and {number(found.length - MOST_LISTED)} more</Box>
      )}
    </>
  );
});

function Thing({ thing, onGo }: { thing: ThingView; onGo: Props['onGo'] }) {
  return (
    <Box sx={{ py: 0.5, borderTop: 1, borderColor: 'line' }}>
      <RowLink to={thing.to} onGo={onGo} />
      {thing.is.map((one) => (
        <Box key={`${one.table} ${one.row}`} sx={{ pl: 1.5, fontSize: 13.5 }}>
          <RowLink to={one} onGo={onGo} />
        </Box>
      ))}
    </Box>
  );
}
