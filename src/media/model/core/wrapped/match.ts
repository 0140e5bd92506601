import type { Form, Part } from '../form/form';

const plain = (name: string): string =>
  name
    .toLowerCase()
    .replace(/\.\d{3}$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * Which given parts come in place of each part of a slot: by name and level, then by a name that is spelled alike, and where as many are left
 * on both sides by their order. `left` are given ones that nothing is like.
 */
export function matchParts(
  slot: readonly Pick<Part, 'name' | 'level' | 'material'>[],
  given: readonly Part[],
): { readonly matched: readonly (Part | undefined)[]; readonly left: readonly Part[] } {
  const matched: (Part | undefined)[] = slot.map(() => undefined);
  const open = new Set(given);
  const pass = (isLike: (own: (typeof slot)[number], other: Part) => boolean): void => {
    slot.forEach((own, i) => {
      if (matched[i]) return;
      for (const other of open)
        if (isLike(own, other)) {
          matched[i] = other;
          open.delete(other);
          return;
        }
    });
  };
  pass(
    (own, other) => own.name === other.name && own.level === other.level && own.material === other.material,
  );
  pass((own, other) => own.name === other.name && own.level === other.level);
  pass((own, other) => plain(own.name) === plain(other.name) && own.level === other.level);
  const missing = matched.filter((one) => !one).length;
  if (missing > 0 && missing === open.size) pass(() => true);
  return { matched, left: [...open] };
}

/** The number in the slot of each bone that is given: by name. Undefined for one that the slot has not. */
export function matchBones(slot: Form, given: Form): (number | undefined)[] {
  const byName = new Map<string, number>();
  slot.bones.forEach(({ name }, i) => byName.has(name) || byName.set(name, i));
  const spelled = new Map<string, number>();
  slot.bones.forEach(({ name }, i) => spelled.has(plain(name)) || spelled.set(plain(name), i));
  return given.bones.map(({ name }) => byName.get(name) ?? spelled.get(plain(name)));
}
