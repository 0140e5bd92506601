import { Stall } from './stall';

export interface LogLine {
  /** Milliseconds since the start. */
  at: number;
  sort: 'mounted' | 'took' | 'stall' | 'note';
  what: string;
  from?: string;
  detail: string;
}

export type Note = (sort: LogLine['sort'], what: string, detail: string, from?: string) => void;

export interface Logged<T> {
  loaded: boolean;
  log: LogLine[];
  made: T | undefined;
}

/** Lets a game load, and keeps what it says; where it stalls, its last line says at what and why. */
export function logged<T>(game: string, load: (note: Note) => T): Logged<T> {
  const started = performance.now();
  const log: LogLine[] = [];
  const note: Note = (sort, what, detail, from) => {
    const at = Math.round((performance.now() - started) * 10) / 10;
    log.push({ at, sort, what, detail, ...(from && { from }) });
  };
  try {
    return { made: load(note), loaded: true, log };
  } catch (error) {
    if (error instanceof Stall) note('stall', error.what, `${error.field}: ${error.why}`);
    else note('stall', game, error instanceof Error ? error.message : String(error));
    return { loaded: false, log, made: undefined };
  }
}
