import { equalBytes } from '../bytes';
import type { ResolvedStep } from '../script';

/** Whether two seals would make the same of the same bytes. */
export function sameSteps(a: readonly ResolvedStep[], b: readonly ResolvedStep[]): boolean {
  return a.length === b.length && a.every((step, i) => sameStep(step, b[i]!));
}

function sameStep(a: ResolvedStep, b: ResolvedStep): boolean {
  if (a.sort === 'cipher' && b.sort === 'cipher')
    return (
      a.cipher === b.cipher &&
      equalBytes(a.key, b.key) &&
      equalBytes(a.iv ?? NOTHING, b.iv ?? NOTHING) &&
      sameSettings(a.settings, b.settings)
    );
  if (a.sort === 'codec' && b.sort === 'codec')
    return a.codec === b.codec && sameSettings(a.settings, b.settings);
  return a.sort === 'blocks' && b.sort === 'blocks' && a.codec === b.codec && a.plain === b.plain;
}

function sameSettings(
  a: ResolvedStep extends infer S ? (S extends { settings: infer T } ? T : never) : never,
  b: typeof a,
): boolean {
  for (const [name, value] of a) if (String(value) !== String(b.get(name))) return false;
  return true;
}

const NOTHING = new Uint8Array(0);
