import type { Manifold, ManifoldToplevel } from 'manifold-3d/manifold';
import type { Solid } from './solid';

/** The package that joins and cuts closed solids (manifold-3d, WebAssembly; its memory is given back by hand). */
let engine: Promise<ManifoldToplevel> | undefined;

export function solidEngine(): Promise<ManifoldToplevel> {
  engine ??= import('manifold-3d/manifold').then(async ({ default: make }) => {
    const made = await make();
    made.setup();
    return made;
  });
  return engine;
}

/** A solid for the engine; undefined where it is not closed, or is nothing. */
export function manifoldOf(
  { Manifold, Mesh }: ManifoldToplevel,
  { places, corners }: Solid,
): Manifold | undefined {
  if (corners.length === 0) return undefined;
  try {
    const made = new Manifold(
      new Mesh({ numProp: 3, vertProperties: new Float32Array(places), triVerts: new Uint32Array(corners) }),
    );
    if (made.status() === 'NoError' && !made.isEmpty()) return made;
    made.delete();
    return undefined;
  } catch {
    // It throws one of its own numbers for what it cannot take.
    return undefined;
  }
}

export function solidFrom(manifold: Manifold): Solid {
  const { vertProperties, triVerts, numProp } = manifold.getMesh();
  const places = new Float64Array((3 * vertProperties.length) / numProp);
  for (let i = 0; i * numProp < vertProperties.length; i++)
    for (let axis = 0; axis < 3; axis++) places[3 * i + axis] = vertProperties[i * numProp + axis]!;
  return { places, corners: new Uint32Array(triVerts) };
}

/** Things of the engine that are let go of together, whatever happens. */
export class Held {
  private readonly all = new Set<{ delete(): void }>();

  hold<T extends { delete(): void }>(thing: T): T {
    this.all.add(thing);
    return thing;
  }

  letGo(): void {
    for (const thing of this.all) thing.delete();
    this.all.clear();
  }
}
