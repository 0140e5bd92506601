'use client';
import Box from '@mui/material/Box';
import { useColorScheme } from '@mui/material/styles';
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import { TexelRenderer } from './renderer';
import type { Texels } from './texel-messages';
import { fitted, texelAt, zoomedAt, type Placement, type View } from './view-state';

export interface Spot {
  readonly x: number;
  readonly y: number;
}

const WHEEL = 1.2;
const CLICK_PIXELS = 4;

/** The canvas of the light table: drawn on the graphics card, moved by dragging, zoomed by the wheel. */
export function TexelCanvas({
  texels,
  other,
  view,
  placement,
  label,
  onPlace,
  onHover,
  onPick,
  onSplit,
  onFail,
}: {
  texels: Texels;
  other: Texels | undefined;
  view: View;
  placement: Placement | undefined;
  label: string;
  onPlace: (placement: Placement) => void;
  onHover: (spot: Spot | undefined) => void;
  onPick: (spot: Spot) => void;
  onSplit: (split: number) => void;
  onFail: (message: string) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const renderer = useRef<TexelRenderer>(undefined);
  const dragged = useRef<{ x: number; y: number; from: Placement; sort: 'move' | 'split'; far: boolean }>(
    undefined,
  );
  const [light, setLight] = useState<readonly [number, number]>([-0.5, 0.6]);
  const [box, setBox] = useState({ width: 0, height: 0 });
  const { mode, systemMode } = useColorScheme();
  const isDark = (mode === 'system' ? systemMode : mode) === 'dark';
  const { at } = texels.facts;

  // The renderer and its texels are there before anything is drawn, which happens in the last of these.
  useLayoutEffect(() => {
    const node = canvas.current!;
    try {
      renderer.current = new TexelRenderer(node);
    } catch (error) {
      onFail((error as Error).message);
      return undefined;
    }
    const watcher = new ResizeObserver(() => setBox({ width: node.clientWidth, height: node.clientHeight }));
    watcher.observe(node);
    return () => {
      watcher.disconnect();
      renderer.current?.close();
      renderer.current = undefined;
    };
    // The renderer lives as long as the canvas.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  useLayoutEffect(() => {
    const { mostSide } = renderer.current ?? {};
    if (mostSide !== undefined && Math.max(at.width, at.height) > mostSide)
      onFail(
        `${at.width} x ${at.height} texels are more than the graphics here draw (${mostSide} a side). Look at a smaller level.`,
      );
    else renderer.current?.take(0, at, texels.data);
  }, [texels, at, onFail]);
  useLayoutEffect(() => {
    if (other) renderer.current?.take(1, other.facts.at, other.data);
  }, [other]);

  useEffect(() => {
    if (placement === undefined && box.width > 0) onPlace(fitted(at.width, at.height, box.width, box.height));
  }, [placement, box, at, onPlace]);

  useLayoutEffect(() => {
    const node = canvas.current;
    if (!node || !placement || box.width === 0 || !renderer.current) return;
    const scale = window.devicePixelRatio;
    if (node.width !== box.width * scale || node.height !== box.height * scale) {
      node.width = box.width * scale;
      node.height = box.height * scale;
    }
    const before = performance.now();
    renderer.current.draw({
      view: view.compare !== 'off' && !other ? { ...view, compare: 'off' } : view,
      placement,
      light,
      paper: isDark ? '#22343a' : '#ffffff',
      squares: isDark ? '#33474d' : '#d8dcd8',
    });
    node.dataset.drawn = `${(performance.now() - before).toFixed(1)}`;
  }, [view, placement, light, box, isDark, texels, other]);

  const here = useCallback((event: { clientX: number; clientY: number }): Spot => {
    const { left, top } = canvas.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  }, []);

  // React's own wheel listener is passive, so that it could not keep the page from scrolling.
  useEffect(() => {
    const node = canvas.current!;
    const wheel = (event: WheelEvent): void => {
      event.preventDefault();
      if (!placement) return;
      const { x, y } = here(event);
      onPlace(zoomedAt(placement, event.deltaY < 0 ? WHEEL : 1 / WHEEL, x, y));
    };
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, [placement, onPlace, here]);

  const down = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!placement) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y } = here(event);
    const edge = placement.x + view.split * at.width * placement.zoom;
    const sort = view.compare === 'slider' && Math.abs(x - edge) < 12 ? 'split' : 'move';
    dragged.current = { x, y, from: placement, sort, far: false };
  };
  const move = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!placement) return;
    const { x, y } = here(event);
    onHover(texelAt(placement, at, x, y));
    if (view.lit && box.width > 0) setLight([(x / box.width) * 2 - 1, 1 - (y / box.height) * 2]);
    const drag = dragged.current;
    if (!drag) return;
    if (Math.hypot(x - drag.x, y - drag.y) > CLICK_PIXELS) drag.far = true;
    if (drag.sort === 'split')
      onSplit(Math.min(1, Math.max(0, (x - placement.x) / (at.width * placement.zoom))));
    else if (drag.far) onPlace({ ...placement, x: drag.from.x + x - drag.x, y: drag.from.y + y - drag.y });
  };
  const up = (event: PointerEvent<HTMLCanvasElement>): void => {
    const drag = dragged.current;
    dragged.current = undefined;
    if (!drag || drag.far || drag.sort === 'split' || !placement) return;
    const { x, y } = here(event);
    const spot = texelAt(placement, at, x, y);
    if (spot) onPick(spot);
  };

  return (
    <Box
      component="canvas"
      ref={canvas}
      role="img"
      aria-label={label}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerLeave={() => onHover(undefined)}
      sx={{
        position: 'absolute',
        inset: 0,
        width: '100%',
        height: '100%',
        cursor: 'crosshair',
        touchAction: 'none',
      }}
    />
  );
}
