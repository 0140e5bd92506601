/** A text that is shown with a film, in seconds from its beginning. */
export interface Subtitle {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

const two = (n: number, digits = 2): string => String(n).padStart(digits, '0');

function stamp(seconds: number, point: ',' | '.'): string {
  const all = Math.max(0, Math.round(seconds * 1000));
  const [ms, s] = [all % 1000, Math.floor(all / 1000)];
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}${point}${two(ms, 3)}`;
}

/** Lines of a text: an empty one would end it, and an arrow would begin the next. */
const shown = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    .replace(/\n{2,}/g, '\n')
    .trim();

/** Subtitles in the form of SubRip. */
export const toSrt = (lines: readonly Subtitle[]): string =>
  lines
    .map(({ from, to, text }, i) => `${i + 1}\n${stamp(from, ',')} --> ${stamp(to, ',')}\n${shown(text)}\n`)
    .join('\n');

const escaped = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

/** Subtitles as WebVTT (W3C), for browsers. */
export const toVtt = (lines: readonly Subtitle[]): string =>
  `WEBVTT\n\n${lines.map(({ from, to, text }) => `${stamp(from, '.')} --> ${stamp(to, '.')}\n${escaped(shown(text))}\n`).join('\n')}`;

const TIME = /^(?:(\d{1,3}):)?(\d{1,2}):(\d{2})[.,](\d{1,3})$/;
const MOST_LINES = 100_000;

function seconds(text: string): number | undefined {
  const [, hours = '0', minutes, whole, part] = TIME.exec(text) ?? [];
  if (minutes === undefined) return undefined;
  return 3600 * Number(hours) + 60 * Number(minutes) + Number(whole) + Number(`0.${part}`);
}

export interface ReadSubtitles {
  readonly lines: readonly Subtitle[];
  /** What could not be read, with the number of its line in the file. */
  readonly problems: readonly { readonly line: number; readonly what: string }[];
}

/**
 * Subtitles from SubRip or WebVTT, told by what they hold. Those without an end last to the next one, five seconds at most. What cannot be read is told by its line; the rest is taken.
 */
export function readSubtitles(file: string): ReadSubtitles {
  const rows = file.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const lines: (Subtitle & { to: number })[] = [];
  const problems: { line: number; what: string }[] = [];
  const isWeb = rows[0]?.startsWith('WEBVTT') ?? false;
  const open = new Set<number>();
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    const number = i + 1;
    const arrow = row.indexOf('-->');
    if (arrow < 0) continue;
    const from = seconds(row.slice(0, arrow).trim());
    const said =
      row
        .slice(arrow + 3)
        .trim()
        .split(/\s+/)[0] ?? '';
    const to = seconds(said);
    if (from === undefined || (to === undefined && said !== '')) {
      problems.push({ line: number, what: `'${row.trim().slice(0, 60)}' has no two times` });
      continue;
    }
    if (lines.length >= MOST_LINES) {
      problems.push({ line: number, what: `more than ${MOST_LINES} texts` });
      break;
    }
    const text: string[] = [];
    while (i + 1 < rows.length && rows[i + 1]!.trim() !== '') text.push(rows[++i]!);
    const plain = isWeb
      ? text
          .join('\n')
          .replace(/<[^>]*>/g, '')
          .replace(/&lt;/g, '<')
          .replace(/&gt;/g, '>')
          .replace(/&amp;/g, '&')
      : text.join('\n');
    if (to === undefined) open.add(lines.length);
    else if (to < from) problems.push({ line: number, what: 'it ends before it begins' });
    lines.push({ from, to: to ?? from, text: plain.trim() });
  }
  for (const at of open) {
    const line = lines[at]!;
    line.to = Math.min(line.from + 5, lines[at + 1]?.from ?? Infinity);
    problems.push({ line: 0, what: `text ${at + 1} has no end; it lasts to the next one, or five seconds` });
  }
  return { lines: lines.filter(({ from, to }) => to >= from).sort((a, b) => a.from - b.from), problems };
}

/** More signs a second than can be read (a usual bound of those who write subtitles). */
const MOST_SIGNS = 21;

export interface SubtitleFault {
  /** Number of the text, from 0. */
  readonly at: number;
  readonly what: 'overlap' | 'too fast' | 'behind the end';
}

/** Texts that are shown over the next one, too shortly to be read, or after the film. */
export function subtitleFaults(lines: readonly Subtitle[], length = Infinity): SubtitleFault[] {
  return lines.flatMap(({ from, to, text }, at): SubtitleFault[] => [
    ...(lines[at + 1] && lines[at + 1]!.from < to ? [{ at, what: 'overlap' as const }] : []),
    ...(text.length > MOST_SIGNS * Math.max(0.001, to - from) ? [{ at, what: 'too fast' as const }] : []),
    ...(to > length + 0.001 ? [{ at, what: 'behind the end' as const }] : []),
  ]);
}
