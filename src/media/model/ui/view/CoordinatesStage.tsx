'use client';
import { MapControls, OrthographicCamera } from '@react-three/drei';
import { Canvas, useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef, type ComponentRef } from 'react';
import * as three from 'three';
import type { CoordinateLines } from '../../core/view/coordinates';
import { useStageKeys } from './use-stage-keys';

/** No further than so many pictures to a side; what reaches beyond is not seen. */
const MOST_SIDES = 8;

export interface CoordinatesStageProps {
  readonly parts: readonly CoordinateLines[];
  readonly texture: three.Texture | undefined;
  readonly background: string;
  readonly ink: string;
  readonly onDrawn: () => void;
}

interface Room {
  readonly left: number;
  readonly top: number;
  readonly wide: number;
  readonly high: number;
}

/** Whole pictures around all coordinates. */
function roomOf(parts: readonly CoordinateLines[]): Room {
  const ends = (axis: 0 | 1): [number, number] => {
    const low = Math.floor(Math.min(0, ...parts.map((part) => part.low[axis])) + 1e-3);
    const high = Math.ceil(Math.max(1, ...parts.map((part) => part.high[axis])) - 1e-3);
    return [Math.max(-MOST_SIDES, low), Math.min(MOST_SIDES, high)];
  };
  const [[left, right], [top, bottom]] = [ends(0), ends(1)];
  return { left, top, wide: right - left, high: bottom - top };
}

/** Triangles where their coordinates lie on a picture: moved by dragging and arrow keys, nearer by wheel, plus and minus. */
export function CoordinatesStage({ parts, texture, background, ink, onDrawn }: CoordinatesStageProps) {
  const room = useMemo(() => roomOf(parts), [parts]);
  return (
    <Canvas frameloop="demand" dpr={[1, 1.5]} onCreated={() => requestAnimationFrame(onDrawn)}>
      <color attach="background" args={[background]} />
      <FlatEye room={room} />
      <Sheet room={room} texture={texture} ink={ink} />
      {parts.map((part, i) => (
        <Sides key={i} part={part} />
      ))}
    </Canvas>
  );
}

/** Moves the eye by a key, or comes nearer; whether the key means anything. */
function moved(held: ComponentRef<typeof MapControls>, key: string): boolean {
  const { object: eye, target } = held;
  if (!(eye instanceof three.OrthographicCamera)) return false;
  const step = 40 / eye.zoom;
  const [x, y] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[key] ?? [];
  if (x !== undefined && y !== undefined)
    for (const place of [target, eye.position]) place.set(place.x + x * step, place.y + y * step, place.z);
  else if (key === '+' || key === '-') {
    eye.zoom *= key === '+' ? 1.25 : 0.8;
    eye.updateProjectionMatrix();
  } else return false;
  held.update();
  return true;
}

function FlatEye({ room }: { readonly room: Room }) {
  const { size, invalidate, camera } = useThree();
  const controls = useRef<ComponentRef<typeof MapControls>>(null);
  const zoom = 0.92 * Math.min(size.width / room.wide, size.height / room.high);
  const middle = useMemo(() => [room.left + room.wide / 2, -(room.top + room.high / 2), 0] as const, [room]);
  // Straight from above, also once this camera has taken the place of the first one.
  useEffect(() => {
    camera.position.set(middle[0], middle[1], 10);
    controls.current?.target.set(...middle);
    controls.current?.update();
    invalidate();
  }, [camera, middle, zoom, invalidate]);
  const move = useCallback((key: string) => controls.current !== null && moved(controls.current, key), []);
  useStageKeys(move);
  return (
    <>
      <OrthographicCamera
        makeDefault
        position={[middle[0], middle[1], 10]}
        zoom={zoom}
        near={0.1}
        far={100}
      />
      <MapControls ref={controls} enableRotate={false} screenSpacePanning enableDamping={false} />
    </>
  );
}

/** The picture, as often as coordinates go round it, and its edge. */
function Sheet({
  room: { left, top, wide, high },
  texture,
  ink,
}: {
  readonly room: Room;
  readonly texture: three.Texture | undefined;
  readonly ink: string;
}) {
  const geometry = useMemo(() => {
    const made = new three.BufferGeometry();
    const corners = [
      [left, top],
      [left + wide, top],
      [left + wide, top + high],
      [left, top + high],
    ] as const;
    made.setAttribute(
      'position',
      new three.Float32BufferAttribute(
        corners.flatMap(([u, v]) => [u, -v, -0.01]),
        3,
      ),
    );
    made.setAttribute('uv', new three.Float32BufferAttribute(corners.flat(), 2));
    made.setIndex([0, 2, 1, 0, 3, 2]);
    return made;
  }, [left, top, wide, high]);
  const edge = useMemo(() => {
    const points = [
      [0, 0],
      [1, 0],
      [1, -1],
      [0, -1],
    ] as const;
    const made = new three.BufferGeometry().setFromPoints(points.map(([x, y]) => new three.Vector3(x, y, 0)));
    return new three.LineLoop(made, new three.LineBasicMaterial({ color: ink }));
  }, [ink]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  useEffect(
    () => () => {
      edge.geometry.dispose();
      edge.material.dispose();
    },
    [edge],
  );
  return (
    <>
      {texture && (
        <mesh geometry={geometry}>
          <meshBasicMaterial map={texture} toneMapped={false} transparent side={three.DoubleSide} />
        </mesh>
      )}
      <primitive object={edge} />
    </>
  );
}

function Sides({ part }: { readonly part: CoordinateLines }) {
  const made = useMemo(() => {
    const geometry = new three.BufferGeometry();
    geometry.setAttribute('position', new three.BufferAttribute(part.places, 3));
    geometry.setIndex(new three.BufferAttribute(part.lines, 1));
    const material = new three.LineBasicMaterial({
      ...{ color: '#dba94d', transparent: true, opacity: 0.85, depthTest: false },
    });
    const lines = new three.LineSegments(geometry, material);
    lines.renderOrder = 1;
    lines.frustumCulled = false;
    return lines;
  }, [part]);
  useEffect(
    () => () => {
      made.geometry.dispose();
      made.material.dispose();
    },
    [made],
  );
  return <primitive object={made} />;
}
