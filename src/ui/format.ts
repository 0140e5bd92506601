/** Bytes in decimal units, three digits at the most before a fraction. */
export function bytes(count: number): string {
  if (count < 999.5) return `${Math.round(count)} B`;
  const units = ['KB', 'MB', 'GB', 'TB'];
  let value = count;
  let unit = -1;
  do {
    value /= 1000;
    unit++;
  } while (value >= 999.5 && unit < units.length - 1);
  return `${value.toFixed(value < 10 ? 1 : 0)} ${units[unit]}`;
}

// Made once: each call of toLocaleString makes one anew, which lists with thousands of numbers feel.
const numbers = new Intl.NumberFormat('en-GB');
const days = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const number = (value: number): string => numbers.format(value);

/** A day out of seconds since 1970. */
export const day = (seconds: number): string => days.format(seconds * 1000);

export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${number(count)} ${count === 1 ? one : many}`;

export function duration(seconds: number): string {
  if (seconds < 1) return `${seconds.toFixed(2)} s`;
  if (seconds < 60) return `${seconds.toFixed(seconds < 10 ? 1 : 0)} s`;
  const whole = Math.round(seconds);
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`;
  return `${Math.floor(whole / 3600)} h ${Math.round((whole % 3600) / 60)} min`;
}

export const when = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

export const hex = (value: number, digits = 8): string => value.toString(16).padStart(digits, '0');

export const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);
export const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);
