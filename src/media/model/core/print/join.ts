import type { Manifold, ManifoldToplevel } from 'manifold-3d/manifold';
import { edgesOf, shellsOf } from './edges';
import { Held, manifoldOf, solidFrom } from './engine';
import { membersOf } from './orient';
import { shellOf, volumeOf, type Solid } from './solid';

/**
 * Shells that stand in each other as one; hollows stay hollow. From the largest shell to the smallest, each is added, or taken out where
 * its faces look inwards. Undefined where a shell is not closed.
 */
export function join(engine: ManifoldToplevel, solid: Solid): Solid | undefined {
  const shells = membersOf(shellsOf(solid, edgesOf(solid)))
    .map((own) => ({ own, volume: volumeOf(solid, own) }))
    .sort((a, b) => Math.abs(b.volume) - Math.abs(a.volume));
  if (shells.length === 1) return solid;
  const held = new Held();
  try {
    let whole: Manifold | undefined;
    let run: Manifold[] = [];
    let isRunOfHollows = false;
    const take = (): void => {
      if (run.length === 0) return;
      const { Manifold } = engine;
      if (isRunOfHollows) whole = whole && held.hold(Manifold.difference([whole, ...run]));
      else whole = held.hold(Manifold.union([...(whole ? [whole] : []), ...run]));
      run = [];
    };
    for (const { own, volume } of shells) {
      const isHollow = volume < 0;
      const made = manifoldOf(engine, shellOf(solid, own, isHollow));
      if (!made) return undefined;
      held.hold(made);
      if (isHollow !== isRunOfHollows) {
        take();
        isRunOfHollows = isHollow;
      }
      run.push(made);
    }
    take();
    return whole && !whole.isEmpty() ? solidFrom(whole) : undefined;
  } finally {
    held.letGo();
  }
}
