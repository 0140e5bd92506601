/**
 * Sheets that belong together are told by what their names end in. Ends that mean the same are one role; the near and
 * the far half of a sheet show the same thing, the others something else of it.
 */
const ROLES: Readonly<Record<string, readonly string[]>> = {
  near: ['near', 'hi', 'high'],
  far: ['far', 'lo', 'low'],
  colour: ['colour', 'color', 'diffuse', 'albedo', 'base'],
  normal: ['normal', 'nrm'],
  mask: ['mask', 'masks'],
  maps: ['maps', 'packed'],
  glow: ['glow', 'emissive'],
  gloss: ['gloss', 'rough', 'roughness', 'spec', 'specular'],
  height: ['height', 'displace'],
  shade: ['ao', 'occlusion', 'shade'],
};

const ROLE_OF = new Map(
  Object.entries(ROLES).flatMap(([role, ends]) => ends.map((end) => [end, role] as const)),
);

/** What a role is called, whoever says it. */
export const ROLE_NAMES: readonly string[] = Object.keys(ROLES);

export interface Role {
  readonly role: string;
  /** The path without the end that tells the role, and its ending. */
  readonly stem: string;
  readonly ending: string;
}

/** The role that a path's end tells; undefined where it tells none. */
export function roleOf(path: string): Role | undefined {
  const match = /^(.*)([_.-])([a-z]+)(\.[^./]+)$/i.exec(path);
  const role = match && ROLE_OF.get(match[3]!.toLowerCase());
  return role ? { role, stem: match[1]! + match[2]!, ending: match[4]! } : undefined;
}

/** Whether two roles are halves of one sheet. */
export const areHalves = (a: string, b: string): boolean =>
  (a === 'near' && b === 'far') || (a === 'far' && b === 'near');

/** Paths that other sheets of the same set would have, with their roles. */
export function relatedPaths(path: string): { readonly path: string; readonly role: string }[] {
  const own = roleOf(path);
  if (!own) return [];
  return [...ROLE_OF]
    .map(([end, role]) => ({ path: `${own.stem}${end}${own.ending}`, role }))
    .filter(({ path: other, role }) => other !== path && role !== own.role);
}
