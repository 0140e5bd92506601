'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { spotAt, type Point, type Spot } from '@/media/table/core/places/grid';
import type { MapView } from '@/server/reading/map-view';
import { number, plural } from '../../format';
import { HistoryButtons } from '../../changes/HistoryButtons';
import { useHues } from '../../kit/use-hues';
import { moved, showing, wholeIn, zoomed, type Camera } from './camera';
import type { Sight } from './map-messages';
import { SpotSide } from './SpotSide';
import { Palette } from './Palette';
import { useCanvas } from './use-canvas';
import { usePainting } from './use-painting';

interface Props {
  readonly gameId: number;
  readonly map: MapView;
  /** The mod that it is painted in; undefined where it is looked at as the game has it. */
  readonly modId: number | undefined;
  /** The row that is a map. */
  readonly table: string;
  readonly row: number;
  /** The spot that one is on, as `across:down`; empty for the first of what is seen. */
  readonly spot: string;
  readonly onSpot: (spot: string) => void;
  readonly onGo: (table: string, row: number) => void;
  readonly onWords: () => void;
  readonly onClose: () => void;
}

const ARROWS: Readonly<Record<string, readonly [across: number, down: number]>> = {
  ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] },
};
const FAR = 10;
const REST_MS = 250;
/** A pointer that moved less than this pressed and did not drag. */
const LEAST_DRAG = 4;

function spotOf(text: string, { seen }: MapView): Spot {
  const [across, down] = text.split(':').map(Number);
  if (text !== '' && Number.isInteger(across) && Number.isInteger(down))
    return { across: across!, down: down! };
  return { across: seen?.across ?? 0, down: seen?.down ?? 0 };
}

/** The map itself with what lies on the spot that one is on beside it. */
export function MapStage(props: Props) {
  const { gameId, map, modId, table, row, spot: said, onSpot, onGo, onWords, onClose } = props;
  const [spot, setSpot] = useState(() => spotOf(said, map));
  const stage = useRef<HTMLDivElement>(null);
  const side = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; y: number; far: number; isStroke: boolean } | undefined>(undefined);
  const [size, setSize] = useState<readonly [width: number, height: number]>();
  const [camera, setCamera] = useState<Camera>();
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const hues = useHues();
  useEffect(() => {
    const watched = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width < 1 || height < 1) return;
      setSize([Math.round(width), Math.round(height)]);
      setCamera((before) => before ?? wholeIn(map, width, height));
    });
    watched.observe(stage.current!);
    return () => watched.disconnect();
  }, [map]);
  useEffect(() => stage.current?.focus(), []);
  const sight = useMemo<Sight | undefined>(
    () =>
      size && camera
        ? {
            ...{ width: size[0], height: size[1], ratio: window.devicePixelRatio, ...camera },
            ...{ across: spot.across, down: spot.down },
            shown: map.layers.map(({ field }) => !hidden.has(field)),
            hues: { stage: hues.stage, lines: hues.lines, mark: hues.changed },
          }
        : undefined,
    [size, camera, spot.across, spot.down, map, hidden, hues],
  );
  const box = useRef<HTMLDivElement>(null);
  const canvas = useCanvas(box, gameId, map, sight);
  const painting = usePainting({ gameId, modId, table, row }, map, canvas);
  const mayPaint = modId !== undefined && painting.brush !== undefined;
  // Keys may come faster than it is drawn.
  const latest = useRef(spot);
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(rest.current), []);
  const go = useCallback(
    (next: Spot): void => {
      latest.current = { across: next.across, down: next.down };
      setSpot(latest.current);
      // The address follows when one rests.
      clearTimeout(rest.current);
      rest.current = setTimeout(() => onSpot(`${next.across}:${next.down}`), REST_MS);
      setCamera((before) => before && size && showing(before, map, next, ...size));
    },
    [map, size, onSpot],
  );
  const back = useCallback(() => stage.current?.focus(), []);
  const zoom = (steps: number, point?: Point): void =>
    setCamera((before) => before && zoomed(before, steps, point));
  const onKey = (event: React.KeyboardEvent): void => {
    const arrow = ARROWS[event.key];
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (arrow) {
      const by = event.shiftKey ? FAR : 1;
      const { across, down } = latest.current;
      go({ across: across + by * arrow[0], down: down + by * arrow[1] });
    } else if (event.key === 'p' && mayPaint) painting.turn(!painting.isOn);
    else if (event.key === ' ' && painting.isOn) {
      painting.touch(latest.current);
      painting.end();
    } else if (event.key === '+' || event.key === '=') zoom(1);
    else if (event.key === '-') zoom(-1);
    else if (event.key === '0' && size) setCamera(wholeIn(map, ...size));
    else if (event.key === 'Enter') side.current?.querySelector<HTMLElement>('[data-here] button')?.focus();
    else return;
    event.preventDefault();
  };
  /** Dots from the middle of the stage. */
  const pointOf = (event: { clientX: number; clientY: number }): Point => {
    const { left, top, width, height } = stage.current!.getBoundingClientRect();
    return { x: event.clientX - left - width / 2, y: event.clientY - top - height / 2 };
  };
  const spotUnder = ({ x, y }: Point): Spot =>
    spotAt(map.grid, { x: camera!.x + x / camera!.scale, y: camera!.y + y / camera!.scale });
  /** All spots between two points, so that a fast stroke has no gaps. */
  const paintAlong = (from: Point, to: Point): void => {
    const steps = Math.max(1, Math.ceil((2 * Math.hypot(to.x - from.x, to.y - from.y)) / camera!.scale));
    for (let i = 0; i <= steps; i++)
      painting.touch(
        spotUnder({ x: from.x + ((to.x - from.x) * i) / steps, y: from.y + ((to.y - from.y) * i) / steps }),
      );
  };
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', height: '100%', minHeight: 0 }}>
      <Box
        sx={{
          ...{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, px: 2, py: 1 },
          ...{ borderBottom: 1, borderColor: 'line', bgcolor: 'panel' },
        }}
      >
        <Box component="h1" id="map-title" sx={{ m: 0, fontSize: 17, fontWeight: 700 }}>
          {map.title}
        </Box>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>
          {number(map.wide)} by {number(map.high)} {map.grid}, {plural(map.things.length, 'thing')}
        </Box>
        <Box sx={{ flex: 1 }} />
        {map.layers.length > 1 &&
          map.layers.map(({ field }) => (
            <FormControlLabel
              key={field}
              label={field}
              control={
                <Switch
                  size="small"
                  checked={!hidden.has(field)}
                  onChange={(_, isShown) => {
                    const next = new Set(hidden);
                    if (isShown) next.delete(field);
                    else next.add(field);
                    setHidden(next);
                  }}
                />
              }
            />
          ))}
        {mayPaint && <HistoryButtons {...{ gameId, modId }} watched={false} isKeyed={false} />}
        {painting.brush && (
          <Tooltip
            title={mayPaint ? '' : 'It is painted in a mod. Close it, and make or choose one at the top.'}
          >
            <span>
              <ToggleButton
                value="paint"
                size="small"
                disabled={!mayPaint}
                selected={painting.isOn}
                onChange={() => painting.turn(!painting.isOn)}
              >
                Paint
              </ToggleButton>
            </span>
          </Tooltip>
        )}
        <Button onClick={() => zoom(-1)} aria-label="Further away">
          −
        </Button>
        <Button onClick={() => zoom(1)} aria-label="Nearer">
          +
        </Button>
        <Button onClick={() => size && setCamera(wholeIn(map, ...size))}>All of it</Button>
        <Button onClick={onWords}>{map.isSaid ? 'Its words' : 'Say it otherwise'}</Button>
        <Button variant="outlined" onClick={onClose}>
          Close
        </Button>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 300px' }}>
        {/* It is walked by keys as a list is; what it shows is said beside it. */}
        {}
        <Box
          ref={stage}
          role="application"
          aria-label="Map"
          aria-describedby="map-spot"

          tabIndex={0}
          onKeyDown={onKey}
          onWheel={(event) => zoom(event.deltaY < 0 ? 1 : -1, pointOf(event))}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const isStroke =
              painting.isOn && event.button === 0 && !event.shiftKey && !event.altKey && camera !== undefined;
            drag.current = { x: event.clientX, y: event.clientY, far: 0, isStroke };
            if (isStroke) painting.touch(spotUnder(pointOf(event)));
          }}
          onPointerMove={(event) => {
            const from = drag.current;
            if (!from || !camera) return;
            const [x, y] = [event.clientX - from.x, event.clientY - from.y];
            const far = from.far + Math.abs(x) + Math.abs(y);
            drag.current = { ...from, x: event.clientX, y: event.clientY, far };
            if (from.isStroke) paintAlong(pointOf({ clientX: from.x, clientY: from.y }), pointOf(event));
            else if (far >= LEAST_DRAG) setCamera((before) => before && moved(before, x, y));
          }}
          onPointerUp={(event) => {
            const from = drag.current;
            drag.current = undefined;
            if (!from || !camera) return;
            if (from.isStroke) painting.end();
            else if (from.far >= LEAST_DRAG) return;
            const spot = spotUnder(pointOf(event));
            if (painting.isOn && event.altKey) painting.takeUp(spot);
            go(spot);
          }}
          onPointerCancel={() => {
            if (drag.current?.isStroke) painting.end();
            drag.current = undefined;
          }}
          sx={{
            ...{ minWidth: 0, minHeight: 0, overflow: 'hidden', cursor: 'crosshair', touchAction: 'none' },
            '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: '-2px' },
          }}
        >
          <Box ref={box} sx={{ width: '100%', height: '100%' }} />
        </Box>
        <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}>
          {painting.isOn && <Palette {...{ gameId, map, painting }} />}
          <SpotSide ref={side} {...{ map, spot, onGo }} onSpot={go} onBack={back} />
        </Box>
      </Box>
    </Box>
  );
}
