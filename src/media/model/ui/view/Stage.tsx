'use client';
import { Environment, OrbitControls } from '@react-three/drei';
import { Canvas, useFrame, useThree, type ThreeEvent } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef, useState, type ComponentRef } from 'react';
import * as three from 'three';
import { RoomEnvironment } from 'three/examples/jsm/environments/RoomEnvironment.js';
import type { Box } from '../../core/form/form';
import type { Greys } from '../../core/take';
import type { Bones, ShownForm } from './use-form';
import { PartMesh } from './PartMesh';
import { shapeShares, type ShapeFrames } from './shape-shares';
import { useStageKeys } from './use-stage-keys';
import type { ModelViewState } from './view-state';

/** A place in the model, metres. */
export type Spot = readonly [number, number, number];

/** Lines that are drawn over a model: 6 numbers each, metres. */
export interface Lines {
  readonly hue: string;
  readonly points: Float32Array;
}

export interface StageProps {
  readonly shown: ShownForm;
  readonly geometries: readonly three.BufferGeometry[];
  readonly bones: Bones | undefined;
  readonly view: ModelViewState;
  readonly textures: ReadonlyMap<string, three.Texture>;
  /** What the channels of grey maps are. */
  readonly greys: Greys;
  /** What plays, on these bones. */
  readonly clip: three.AnimationClip | undefined;
  /** The shapes that it goes through, where it does. */
  readonly frames: ShapeFrames | undefined;
  /** Seconds into it. */
  readonly seconds: number;
  readonly spots: readonly Spot[];
  readonly lines: readonly Lines[];
  /** Another model that is laid over it: seen through, and without what it is covered with. */
  readonly over: readonly three.BufferGeometry[];
  readonly onSpot: (spot: Spot) => void;
  readonly background: string;
  readonly ink: string;
  /** Counts up whenever the model is to be seen whole again. */
  readonly fits: number;
  readonly onDrawn: () => void;
}

const NOTHING: Box = { low: [-0.5, -0.5, -0.5], high: [0.5, 0.5, 0.5] };

/** Draws a model. A frame is drawn only when something changed. */
export function Stage(props: StageProps) {
  const { shown, view, background } = props;
  const box = shown.form.box ?? NOTHING;
  const middle = useMemo(
    () => new three.Vector3(...box.low).add(new three.Vector3(...box.high)).multiplyScalar(0.5),
    [box],
  );
  const reach = Math.max(1e-4, new three.Vector3(...box.high).distanceTo(new three.Vector3(...box.low)) / 2);
  return (
    <Canvas
      frameloop="demand"
      dpr={[1, 1.5]}
      camera={{ fov: 35, near: reach / 100, far: reach * 200 }}
      gl={{ antialias: true, preserveDrawingBuffer: false }}
    >
      <hemisphereLight args={['#ffffff', '#8d8672', 1.6 * view.light]} />
      <directionalLight position={[reach * 2, reach * 4, reach * 3]} intensity={1.7 * view.light} />
      <directionalLight position={[-reach * 3, reach, -reach * 2]} intensity={0.5 * view.light} />
      <Eye middle={middle} reach={reach} fits={props.fits} />
      <Scenery box={box} middle={middle} reach={reach} {...props} />
      {view.surface === 'grey' && <Surroundings />}
      <Drawn onDrawn={props.onDrawn} background={background} />
    </Canvas>
  );
}

/** A room around it, for metal to mirror: without one it would be black. */
function Surroundings() {
  const { gl, invalidate } = useThree();
  const made = useMemo(() => {
    const [room, maker] = [new RoomEnvironment(), new three.PMREMGenerator(gl)];
    const target = maker.fromScene(room, 0.04);
    maker.dispose();
    room.dispose();
    return target;
  }, [gl]);
  useEffect(() => {
    invalidate();
    return () => {
      made.dispose();
      invalidate();
    };
  }, [made, invalidate]);
  return <Environment map={made.texture} environmentIntensity={0.5} />;
}

/** Tells when the first frame is there, and draws anew when the background changes. */
function Drawn({ onDrawn, background }: { onDrawn: () => void; background: string }) {
  const { invalidate } = useThree();
  const told = useRef(false);
  useEffect(() => invalidate(), [background, invalidate]);
  useFrame(() => {
    if (told.current) return;
    told.current = true;
    requestAnimationFrame(onDrawn);
  });
  return <color attach="background" args={[background]} />;
}

/** Where the model is looked at from; arrow keys turn it, plus and minus come nearer and go back. */
function Eye({ middle, reach, fits }: { middle: three.Vector3; reach: number; fits: number }) {
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const { camera, invalidate, size } = useThree();
  useEffect(() => {
    const wide = Math.min(1, size.width / Math.max(1, size.height));
    const away = (reach * 1.02) / Math.sin((35 / 2 / 180) * Math.PI) / Math.max(0.35, wide);
    camera.position.set(middle.x + away * 0.52, middle.y + away * 0.26, middle.z + away * 0.81);
    camera.lookAt(middle);
    controls.current?.target.copy(middle);
    controls.current?.update();
    invalidate();
    // Only when it is asked for, not whenever the window becomes larger.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [middle, reach, fits, camera, invalidate]);
  const turn = useCallback(
    (key: string): boolean => {
      const orbit = controls.current;
      const step = Math.PI / 24;
      if (!orbit) return false;
      if (key === 'ArrowLeft') orbit.setAzimuthalAngle(orbit.getAzimuthalAngle() - step);
      else if (key === 'ArrowRight') orbit.setAzimuthalAngle(orbit.getAzimuthalAngle() + step);
      else if (key === 'ArrowUp') orbit.setPolarAngle(orbit.getPolarAngle() - step);
      else if (key === 'ArrowDown') orbit.setPolarAngle(orbit.getPolarAngle() + step);
      else if (key === '+' || key === '-') camera.position.lerp(orbit.target, key === '+' ? 0.12 : -0.14);
      else return false;
      orbit.update();
      return true;
    },
    [camera],
  );
  useStageKeys(turn);
  return <OrbitControls ref={controls} enableDamping={false} makeDefault />;
}

function Scenery({
  shown,
  geometries,
  bones,
  view,
  textures,
  greys,
  clip,
  frames,
  seconds,
  spots,
  lines,
  over,
  onSpot,
  ink,
  box,
  middle,
  reach,
}: StageProps & { box: Box; middle: three.Vector3; reach: number }) {
  const { invalidate } = useThree();
  const moved = useRef<three.Group>(null);
  const mixer = useMemo(() => bones && new three.AnimationMixer(bones.root), [bones]);
  const [stance] = useState(() =>
    bones?.all.map((bone) => [bone.position.clone(), bone.quaternion.clone(), bone.scale.clone()] as const),
  );
  useEffect(() => {
    if (!mixer || !bones) return;
    mixer.stopAllAction();
    // What a clip does not move stands as it was made.
    bones.all.forEach((bone, i) => {
      const [position, quaternion, scale] = stance?.[i] ?? [];
      if (position) bone.position.copy(position);
      if (quaternion) bone.quaternion.copy(quaternion);
      if (scale) bone.scale.copy(scale);
    });
    if (clip) {
      mixer.clipAction(clip).reset().setLoop(three.LoopOnce, 1).play().clampWhenFinished = true;
      mixer.setTime(Math.min(seconds, clip.duration - 1e-6));
    }
    bones.root.updateMatrixWorld(true);
    invalidate();
    // Where it is in the clip is the next effect's.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [mixer, bones, clip, stance]);
  useEffect(() => {
    if (!mixer || !clip) return;
    mixer.setTime(Math.min(seconds, Math.max(0, clip.duration - 1e-6)));
    invalidate();
  }, [mixer, clip, seconds, invalidate]);
  const moment = frames ? seconds : 0;
  useEffect(() => invalidate(), [frames, moment, invalidate]);
  useEffect(() => invalidate(), [view, textures, greys, spots, lines, over, invalidate]);
  const take = (event: ThreeEvent<MouseEvent>): void => {
    if (!view.isMeasuring || event.delta > 4) return;
    event.stopPropagation();
    onSpot(event.point.toArray());
  };
  return (
    <>
      <group ref={moved} onClick={take}>
        {bones && <primitive object={bones.root} />}
        {shown.form.parts.map((part, i) =>
          part.level !== view.level || view.hidden.includes(i) ? null : (
            <PartMesh
              key={i}
              {...{ part, shown, view, bones, textures, greys }}
              shares={shapeShares(part, frames, seconds, view.shapes)}
              geometry={geometries[i]!}
              material={shown.form.materials[part.material]}
            />
          ),
        )}
      </group>
      {bones && view.showsBones && (
        <BoneLines bones={bones} chosen={view.bone} reach={reach} ink={ink} seconds={seconds} />
      )}
      {view.showsBox && (
        <box3Helper
          args={[new three.Box3(new three.Vector3(...box.low), new three.Vector3(...box.high)), ink]}
        />
      )}
      {view.showsGround && (
        <gridHelper
          args={[reach * 4, 16, ink, ink]}
          position={[middle.x, box.low[1], middle.z]}
          material-transparent
          material-opacity={0.18}
        />
      )}
      {over.map((geometry) => (
        <mesh key={geometry.uuid} geometry={geometry} renderOrder={1}>
          <meshBasicMaterial
            color="#dba94d"
            transparent
            opacity={0.38}
            depthWrite={false}
            side={three.DoubleSide}
            polygonOffset
            polygonOffsetFactor={-1}
          />
        </mesh>
      ))}
      {lines.map((one) => one.points.length > 0 && <Marked key={one.hue} {...one} />)}
      {spots.map((spot, i) => (
        <mesh key={i} position={[...spot]}>
          <sphereGeometry args={[reach / 90, 12, 8]} />
          <meshBasicMaterial color="#dba94d" depthTest={false} />
        </mesh>
      ))}
      {spots.length === 2 && <SpotLine spots={spots} />}
    </>
  );
}

/** Lines that are seen through the model. */
function Marked({ hue, points }: Lines) {
  const marked = useMemo(() => {
    const geometry = new three.BufferGeometry();
    geometry.setAttribute('position', new three.BufferAttribute(points, 3));
    const made = new three.LineSegments(
      geometry,
      new three.LineBasicMaterial({ color: hue, depthTest: false, transparent: true }),
    );
    made.renderOrder = 2;
    return made;
  }, [hue, points]);
  useEffect(
    () => () => {
      marked.geometry.dispose();
      marked.material.dispose();
    },
    [marked],
  );
  return <primitive object={marked} />;
}

function SpotLine({ spots }: { spots: readonly Spot[] }) {
  const line = useMemo(() => {
    const geometry = new three.BufferGeometry().setFromPoints(
      spots.map((spot) => new three.Vector3(...spot)),
    );
    return new three.Line(geometry, new three.LineBasicMaterial({ color: '#dba94d', depthTest: false }));
  }, [spots]);
  useEffect(
    () => () => {
      line.geometry.dispose();
      (line.material as three.Material).dispose();
    },
    [line],
  );
  return <primitive object={line} />;
}

/** Bones as lines from each to what hangs on it, and the chosen one as a dot. */
function BoneLines({
  bones,
  chosen,
  reach,
  ink,
  seconds,
}: {
  bones: Bones;
  chosen: number;
  reach: number;
  ink: string;
  seconds: number;
}) {
  const helper = useMemo(() => {
    const lines = new three.SkeletonHelper(bones.root);
    const material = lines.material as three.LineBasicMaterial;
    material.vertexColors = false;
    material.color.set(ink);
    return lines;
  }, [bones, ink]);
  const { invalidate } = useThree();
  useEffect(() => () => helper.dispose(), [helper]);
  const dot = useRef<three.Mesh>(null);
  useEffect(() => {
    const bone = bones.all[chosen];
    bones.root.updateMatrixWorld(true);
    if (bone && dot.current) bone.getWorldPosition(dot.current.position);
    invalidate();
  }, [bones, chosen, seconds, invalidate]);
  return (
    <>
      <primitive object={helper} />
      {bones.all[chosen] && (
        <mesh ref={dot}>
          <sphereGeometry args={[reach / 60, 12, 8]} />
          <meshBasicMaterial color="#dba94d" depthTest={false} />
        </mesh>
      )}
    </>
  );
}
