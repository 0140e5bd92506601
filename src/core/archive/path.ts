/** Why a path must never be used as it is, or undefined where it may. */
export function pathProblem(path: string): string | undefined {
  if (path === '') return 'it is empty';
  if (path.length > 1024) return 'it is longer than 1024 characters';
  if (path.startsWith('/')) return 'it is absolute';
  if (/^[A-Za-z]:/.test(path)) return 'it names a drive';
  if (path.includes('\\')) return 'it has a backslash';

  if (/[\u0000-\u001f\u007f]/.test(path)) return 'it has a control character';
  const parts = path.split('/');
  if (parts.includes('..')) return 'it climbs out of its folder';
  if (parts.includes('.') || parts.includes('')) return 'it has an empty step';
  return undefined;
}

const DEVICES = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;
const MOST_STEP_BYTES = 200;

/** A safe path turned into one that every common system can hold; the same input gives the same output. */
export function portablePath(path: string): string {
  return path.split('/').map(portableStep).join('/');
}

function portableStep(step: string): string {
  let name = step
    .replace(/[\u0000-\u001f\u007f<>:"|?*\\]/g, '_')
    .replace(/[. ]+$/, (end) => '_'.repeat(end.length));
  if (DEVICES.test(name)) name = `_${name}`;
  // No sign takes more than three bytes for each of its units.
  if (3 * name.length <= MOST_STEP_BYTES || new TextEncoder().encode(name).length <= MOST_STEP_BYTES)
    return name;
  const dot = name.lastIndexOf('.');
  const ending = dot > 0 && name.length - dot <= 12 ? name.slice(dot) : '';
  let stem = name.slice(0, name.length - ending.length);
  while (new TextEncoder().encode(stem + ending).length > MOST_STEP_BYTES)
    stem = [...stem].slice(0, -1).join('');
  return stem + ending;
}

/** The path under which an entry with a refused path can still be reached. */
export function standInPath(index: number, path: string): string {
  const last = path.split(/[\\/]/).pop() ?? '';

  const bare = last.replace(/[\u0000-\u001f\u007f<>:"|?*]/g, '_').replace(/^\.+$/, '');
  return `refused-paths/${index}${bare ? `-${bare}` : ''}`;
}
