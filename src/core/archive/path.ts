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
/** Names that what writes here keeps for itself: its ledgers, and files that are not whole yet. */
const OURS = /^\.zero-latch-|\.zero-latch-part$/i;
const MOST_STEP_BYTES = 200;
const MOST_BYTES = 1800;
const MOST_STEPS = 100;

/**
 * Any path turned into one that stays below its folder and that every common system can hold; the same input gives the same output.
 */
export function portablePath(path: string): string {
  // Some archivers begin every path with the folder that they stood in.
  const named = path.split('/').filter((step, i, all) => step !== '.' || (i === all.length - 1 && i === 0));
  const steps = named.map(portableStep);
  const portable = steps.join('/');
  if (steps.length <= MOST_STEPS && 3 * portable.length <= MOST_BYTES) return portable;
  if (steps.length <= MOST_STEPS && new TextEncoder().encode(portable).length <= MOST_BYTES) return portable;
  // Too deep or too long for a disk: told apart by what it was.
  return `long-paths/${digestOf(path)}/${steps.at(-1)!}`;
}

/** FNV-1a of 32 bits over code units (Fowler, Noll, Vo), as 8 hexadecimal digits. */
function digestOf(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}

function portableStep(step: string): string {
  let name = step
    .replace(/[\u0000-\u001f\u007f<>:"|?*\\]/g, '_')
    .replace(/[. ]+$/, (end) => '_'.repeat(end.length));
  if (name === '') name = '_';
  if (DEVICES.test(name) || OURS.test(name)) name = `_${name}`;
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

/** A name with signs that control a terminal in it, shown by the pictures that Unicode has of these (U+2400 to U+2421). */
export function shownName(spelled: string): string {
  return spelled.replace(/[\u0000-\u001f\u007f]/g, (sign) =>
    String.fromCharCode(sign === '\u007f' ? 0x2421 : 0x2400 + sign.charCodeAt(0)),
  );
}
