'use client';
import CloseIcon from '@mui/icons-material/Close';
import ZoomInIcon from '@mui/icons-material/ZoomIn';
import ZoomOutIcon from '@mui/icons-material/ZoomOut';
import FitIcon from '@mui/icons-material/FitScreen';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import Dialog from '@mui/material/Dialog';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Place, Rectangle } from '@/media/picture/core/texture';
import { api } from '@/ui/api';
import { keepText, useKeptText } from '@/ui/kept-text';
import { nameOf } from '@/ui/format';
import { lettersWork } from '@/ui/letter-keys';
import { ChannelMap, type ChannelSource } from './ChannelMap';
import { Choices } from './Choices';
import { Histogram } from './Histogram';
import { TexelCanvas, type Spot } from './TexelCanvas';
import type { Texels } from './texel-messages';
import { useTexels } from './use-texels';
import { CHANNELS, FIRST_VIEW, viewOfRole, zoomedAt, type Placement, type View } from './view-state';

/** What lies on the light table. */
export interface OnTable {
  readonly title: string;
  /** Where its texels come from, without a query. */
  readonly url: string;
  /** What it can be held against, with what it is. */
  readonly other?: { readonly url: string; readonly title: string } | undefined;
  /** What it is for, where that is known. */
  readonly role?: string | null | undefined;
  /** Below `games/`, where a block's bytes come from; missing for what is not stored. */
  readonly blockUrl?: string | undefined;
  /** Whose channels can be taken out and put in; missing for what is no entry. */
  readonly source?: ChannelSource | undefined;
}

const FIRST: Place = { level: 0, layer: 0, face: 0, slice: 0 };
const KEPT_COLOURS = 'zero-latch-mask-colours';
const ARROW_PIXELS = 60;

const query = (place: Place, part?: Rectangle): string =>
  [
    ...Object.entries(place).map(([name, value]) => `${name}=${value}`),
    ...(part ? [`part=${part.x},${part.y},${part.width},${part.height}`] : []),
  ].join('&');

/** A picture texel by texel, over the whole window. */
export function LightTable({ on, onClose }: { on: OnTable | undefined; onClose: () => void }) {
  return (
    <Dialog
      fullScreen
      open={on !== undefined}
      onClose={onClose}
      slotProps={{ paper: { 'aria-label': on && `${on.title} on the light table` } }}
    >
      {on && <Table key={on.url} on={on} onClose={onClose} />}
    </Dialog>
  );
}

function useView(role: OnTable['role']): [View, (change: Partial<View>) => void] {
  const kept = useKeptText(KEPT_COLOURS);
  const [own, setOwn] = useState<Partial<View>>(() => viewOfRole(role));
  const colours = /^(#[0-9a-f]{6},){3}#[0-9a-f]{6}$/.test(kept ?? '')
    ? { maskColours: kept!.split(',') as unknown as View['maskColours'] }
    : {};
  const change = useCallback((next: Partial<View>) => {
    if (next.maskColours) keepText(KEPT_COLOURS, next.maskColours.join(','));
    else setOwn((before) => ({ ...before, ...next }));
  }, []);
  return [{ ...FIRST_VIEW, ...own, ...colours }, change];
}

function Table({ on, onClose }: { on: OnTable; onClose: () => void }) {
  const root = useRef<HTMLElement>(null);
  // Keys count from the beginning, and wherever the focus is moved afterwards it stays.
  useEffect(() => root.current?.focus(), []);
  const [place, setPlace] = useState<Place>(FIRST);
  /** What of an image that is too large to be shown as a whole. */
  const [part, setPart] = useState<Rectangle>();
  const [placement, setPlacement] = useState<Placement>();
  const [hover, setHover] = useState<Spot>();
  const [picked, setPicked] = useState<Spot>();
  const [failure, setFailure] = useState<string>();
  const [view, setView] = useView(on.role);
  const { data: texels, error } = useTexels(`${on.url}?${query(place, part)}`);
  const wantsOther = view.compare !== 'off' && on.other !== undefined;
  const other = useTexels(wantsOther ? `${on.other!.url}?${query(place, part)}` : undefined);
  const isSame =
    texels &&
    other.data &&
    texels.facts.at.width === other.data.facts.at.width &&
    texels.facts.at.height === other.data.facts.at.height;
  const show = (next: Place, of?: Rectangle): void => {
    setPlace(next);
    setPart(of);
    setPlacement(undefined);
    setPicked(undefined);
    setFailure(undefined);
  };
  const zoom = (factor: number): void =>
    setPlacement(
      (now) => now && zoomedAt(now, factor, (window.innerWidth - 300) / 2, window.innerHeight / 2),
    );
  const onKey = (event: KeyboardEvent): void => {
    if ((event.target as HTMLElement).closest('input:not([type=checkbox]), [role=combobox]')) return;
    const { key } = event;
    if (/^[a-zA-Z]$/.test(key) && !lettersWork()) return;
    const digit = '12345'.indexOf(key);
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [ARROW_PIXELS, 0],
      ArrowRight: [-ARROW_PIXELS, 0],
      ArrowUp: [0, ARROW_PIXELS],
      ArrowDown: [0, -ARROW_PIXELS],
    };
    if (digit >= 0) setView({ channel: CHANNELS[digit]! });
    else if (key === '+' || key === '=') zoom(2);
    else if (key === '-') zoom(0.5);
    else if (key === '0') setPlacement(undefined);
    else if (key === 't') setView({ tiled: !view.tiled });
    else if (key === 'l') setView({ lit: !view.lit });
    else if (key === 'm') setView({ masked: !view.masked });
    else if (key === 'b' && on.other) setView({ compare: view.compare === 'off' ? 'slider' : 'off' });
    else if (key === 'd' && on.other)
      setView({ compare: view.compare === 'difference' ? 'off' : 'difference' });
    else if (key === '[' && place.level > 0) show({ ...place, level: place.level - 1, slice: 0 });
    else if (key === ']' && texels && place.level < texels.facts.levels - 1)
      show({ ...place, level: place.level + 1, slice: 0 });
    else if (key === ' ' && !(event.target as HTMLElement).closest('button, input')) onClose();
    else if (moves[key])
      setPlacement((now) => now && { ...now, x: now.x + moves[key]![0], y: now.y + moves[key]![1] });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const problem = error?.message ?? failure ?? other.error?.message;
  return (
    <Box
      onKeyDown={onKey}
      tabIndex={-1}
      ref={root}
      sx={{
        height: '100%',
        display: 'grid',
        gridTemplateColumns: '1fr 300px',
        gridTemplateRows: '44px 1fr',
        outline: 'none',
      }}
    >
      <Box
        sx={{
          gridColumn: '1 / -1',
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          px: 2,
          bgcolor: 'panel',
          borderBottom: 1,
          borderColor: 'line',
          minWidth: 0,
        }}
      >
        <Typography
          sx={{
            fontFamily: 'monospace',
            fontSize: 14,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {on.title}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Typography aria-label="Zoom" sx={{ fontSize: 13, color: 'ink2', minWidth: 52, textAlign: 'right' }}>
          {placement &&
            `${placement.zoom >= 0.1 ? Math.round(placement.zoom * 100) : (placement.zoom * 100).toFixed(1)} %`}
        </Typography>
        {(
          [
            ['Further away (-)', ZoomOutIcon, () => zoom(0.5)],
            ['Nearer (+)', ZoomInIcon, () => zoom(2)],
            ['All of it (0)', FitIcon, () => setPlacement(undefined)],
            ['Close', CloseIcon, onClose],
          ] as const
        ).map(([label, Icon, act]) => (
          <Tooltip key={label} title={label}>
            <IconButton size="small" aria-label={label} onClick={act}>
              <Icon fontSize="small" />
            </IconButton>
          </Tooltip>
        ))}
      </Box>
      <Box sx={{ position: 'relative', overflow: 'hidden', bgcolor: 'background.default' }}>
        {texels && (
          <TexelCanvas
            texels={texels}
            other={isSame ? other.data : undefined}
            view={view}
            placement={placement}
            label={`${on.title}, ${view.channel === 'all' ? 'all channels' : view.channel}`}
            onPlace={setPlacement}
            onHover={setHover}
            onPick={(spot) =>
              texels.facts.by > 1 ? show(place, partAround(texels.facts, spot)) : setPicked(spot)
            }
            onSplit={(split) => setView({ split })}
            onFail={setFailure}
          />
        )}
        {texels && (texels.facts.by > 1 || part) && (
          <LargeNote facts={texels.facts} part={part} onAll={() => show(place)} />
        )}
        {!texels && !error && (
          <Box sx={{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center' }}>
            <CircularProgress size={30} aria-label="Reading the texels" />
          </Box>
        )}
        {problem !== undefined && (
          <Alert severity="error" sx={{ position: 'absolute', left: 16, right: 16, top: 16 }}>
            {problem}
          </Alert>
        )}
        {wantsOther && other.data && texels && !isSame && (
          <Alert severity="warning" sx={{ position: 'absolute', left: 16, right: 16, top: 16 }}>
            The two are not of the same size, so they cannot be laid over each other.
          </Alert>
        )}
      </Box>
      <Box sx={{ borderLeft: 1, borderColor: 'line', bgcolor: 'panel', p: 1.5, overflowY: 'auto' }}>
        {texels && (
          <>
            <Facts facts={texels.facts} />
            <Choices
              facts={texels.facts}
              place={place}
              onPlace={show}
              view={view}
              onView={setView}
              canCompare={on.other !== undefined}
            />
            {on.source && countOf(texels.facts) > 1 && <AllImages source={on.source} />}
            {on.source && view.channel !== 'all' && (
              <ChannelMap source={on.source} channel={view.channel} name={nameOf(on.title)} />
            )}
            <Typography variant="h2" sx={{ mt: 1.5 }}>
              Values
            </Typography>
            <Histogram counts={texels.counts} channel={view.channel} alpha={texels.facts.alpha} />
            {texels.facts.by === 1 && <Texel texels={texels} spot={hover ?? picked} />}
            {picked &&
              on.blockUrl !== undefined &&
              texels.facts.container !== 'picture' &&
              !texels.facts.isRearranged && (
                <Block
                  url={`${on.blockUrl}?${query(place)}&x=${picked.x + texels.facts.part.x}&y=${picked.y + texels.facts.part.y}`}
                  spot={{ x: picked.x + texels.facts.part.x, y: picked.y + texels.facts.part.y }}
                  block={texels.facts.block}
                />
              )}
          </>
        )}
      </Box>
    </Box>
  );
}

/** Texels a side of a part of a large image. */
const PART_SIDE = 2048;

/** The part of an image around a place of its overview. */
function partAround({ at, by, part: all }: Texels['facts'], spot: Spot): Rectangle {
  const [width, height] = [Math.min(PART_SIDE, all.width), Math.min(PART_SIDE, all.height)];
  const scale = { x: all.width / at.width, y: all.height / at.height };
  const start = (place: number, length: number, most: number): number =>
    Math.max(0, Math.min(most - length, Math.round(place - length / 2)));
  return {
    x: start((spot.x + 0.5) * scale.x, width, all.width),
    y: start((spot.y + 0.5) * scale.y, height, all.height),
    ...(by > 1 ? { width, height } : { width: all.width, height: all.height }),
  };
}

/** Says that an image is shown smaller than it is, or which part of it. */
function LargeNote({
  facts: { part: shown, by },
  part,
  onAll,
}: {
  facts: Texels['facts'];
  part: Rectangle | undefined;
  onAll: () => void;
}) {
  return (
    <Alert
      severity="info"
      icon={false}
      sx={{ position: 'absolute', left: 16, top: 16, py: 0 }}
      action={
        part && (
          <Button size="small" onClick={onAll}>
            All of it
          </Button>
        )
      }
    >
      {part
        ? `${shown.width} x ${shown.height} texels from ${shown.x}, ${shown.y}.`
        : `${shown.width} x ${shown.height} texels, shown ${Number(by.toFixed(1))} times smaller. Press a place to see its texels.`}
    </Alert>
  );
}

const countOf = ({ levels, layers, faces, depth }: Texels['facts']): number =>
  levels * layers * faces * depth;

/** Levels, layers, faces and slices, each as a picture of its own. */
function AllImages({ source: { gameId, archiveId, index } }: { source: ChannelSource }) {
  return (
    <Button
      size="small"
      component="a"
      href={`/api/games/${gameId}/entries/${archiveId}/${index}/images`}
      download
      sx={{ mb: 1 }}
    >
      Save every image as PNG
    </Button>
  );
}

function Facts({ facts }: { facts: Texels['facts'] }) {
  const parts = [
    facts.container !== 'picture' && facts.container,
    facts.layout,
    `${facts.width} x ${facts.height}${facts.depth > 1 ? ` x ${facts.depth}` : ''}`,
    facts.colourSpace !== 'not said' && facts.colourSpace,
    facts.alpha ? 'with transparency' : 'opaque',
  ];
  return (
    <Typography sx={{ fontSize: 13, color: 'ink2', mb: 1.5 }}>{parts.filter(Boolean).join(', ')}</Typography>
  );
}

/** The value of the texel under the pointer, or of the one that was pressed. */
function Texel({ texels: { facts, data }, spot }: { texels: Texels; spot: Spot | undefined }) {
  if (!spot || spot.x >= facts.at.width || spot.y >= facts.at.height)
    return (
      <Typography sx={{ fontSize: 13, color: 'ink2' }}>
        Point at a texel to read it; press it for its block.
      </Typography>
    );
  const at = 4 * (spot.y * facts.at.width + spot.x);
  const values = [...data.subarray(at, at + 4)];
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', fontSize: 13 }} aria-label="Texel">
      <Box
        sx={{ width: 26, height: 26, borderRadius: 0.5, border: 1, borderColor: 'line' }}
        style={{ background: `rgb(${values.slice(0, 3).join(' ')})` }}
      />
      <Box sx={{ fontFamily: 'monospace' }}>
        {spot.x + facts.part.x}, {spot.y + facts.part.y}: {values.join(' ')}
        <br />#{values.map((value) => value.toString(16).padStart(2, '0')).join('')}
      </Box>
    </Box>
  );
}

/** The stored bytes behind a texel. */
function Block({ url, spot, block }: { url: string; spot: Spot; block: number }) {
  const { data, error } = useQuery({
    queryKey: ['block', url],
    queryFn: () => api.get<{ hex: string; offset: number; layout: string }>(url),
    retry: false,
  });
  const words =
    block > 1
      ? `Block ${Math.floor(spot.x / block)}, ${Math.floor(spot.y / block)}`
      : `Texel ${spot.x}, ${spot.y}`;
  return (
    <Box sx={{ mt: 1, fontSize: 13 }} aria-label="Stored bytes">
      <Box sx={{ color: 'ink2' }}>
        {data ? `${words}, byte ${data.offset} of its level` : (error?.message ?? words)}
      </Box>
      <Box sx={{ fontFamily: 'monospace', wordBreak: 'break-all' }}>{data?.hex.match(/../g)?.join(' ')}</Box>
    </Box>
  );
}
