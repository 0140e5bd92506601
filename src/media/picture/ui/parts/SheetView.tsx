'use client';
import Box from '@mui/material/Box';
import type { MouseEvent } from 'react';
import type { Region } from '@/media/picture/core/atlas';
import { checker } from '@/ui/kit/checker';

/** A sheet with the outlines of its parts; a press picks one, or says where a stamp goes. */
export function SheetView({
  address,
  label,
  width,
  height,
  regions,
  picked,
  isPlacing,
  onPick,
  onPlace,
}: {
  address: string | undefined;
  label: string;
  width: number;
  height: number;
  regions: readonly Region[];
  picked: ReadonlySet<string>;
  isPlacing: boolean;
  onPick: (region: Region, alone: boolean) => void;
  onPlace: (x: number, y: number) => void;
}) {
  const line = Math.max(width, height) / 500;
  const place = (event: MouseEvent<SVGSVGElement>): void => {
    if (!isPlacing) return;
    const matrix = event.currentTarget.getScreenCTM();
    if (!matrix) return;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    onPlace(Math.round(at.x), Math.round(at.y));
  };
  return (
    <Box sx={{ position: 'relative', height: '100%', minWidth: 0, ...checker }}>
      {address && (
        <img
          src={address}
          alt={label}
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            objectFit: 'contain',
            imageRendering: 'pixelated',
          }}
        />
      )}
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label="Parts of the sheet"
        onClick={place}
        style={{
          position: 'absolute',
          inset: 0,
          width: '100%',
          height: '100%',
          cursor: isPlacing ? 'crosshair' : 'default',
        }}
      >
        {regions.map((region) => {
          const isPicked = picked.has(region.name);
          return (
            <rect
              key={region.name}
              x={region.x}
              y={region.y}
              width={region.width}
              height={region.height}
              strokeWidth={isPicked ? 1.6 * line : line}
              stroke={isPicked ? '#ffb02e' : '#7f97a6'}
              fill={isPicked ? '#ffb02e33' : 'transparent'}
              style={{
                cursor: isPlacing ? 'crosshair' : 'pointer',
                pointerEvents: isPlacing ? 'none' : 'all',
              }}
              onClick={(event) => onPick(region, !(event.ctrlKey || event.shiftKey || event.metaKey))}
            >
              <title>{`${region.name}, ${region.width} x ${region.height} at ${region.x}, ${region.y}`}</title>
            </rect>
          );
        })}
      </svg>
    </Box>
  );
}
