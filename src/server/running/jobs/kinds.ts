import { z } from 'zod';
import { KINDS } from '@/core/kinds';
import { BUILD_WAYS } from '@/core/mod';
import { Conversions } from '@/core/recipe';
import { FilmWish } from '@/media/film/core/film-wish';

const game = z.object({ gameId: z.int().positive() });
const entryRef = z.object({ archiveId: z.int().positive(), index: z.int().nonnegative() });

/** A run whose failed entries alone are looked at. */
const retryOf = z.uuid().optional();

/** What each kind of job is told; checked when it is asked for and again when it is begun. */
export const JOB_INPUTS = {
  scan: game,
  extract: game.extend({
    entries: z.array(entryRef).min(1).max(1_000_000),
    folder: z.string().min(1).max(4096),
    convert: Conversions,
    retryOf,
  }),
  'run-recipe': game.extend({ recipeId: z.int().positive(), retryOf }),
  'find-key': game.extend({
    archiveId: z.int().positive(),
    program: z.string().min(1).max(1024),
    all: z.boolean().default(false),
  }),
  'try-names': game.extend({ pattern: z.string().min(1).max(200_000) }),
  'learn-names': game,
  /** Decodes the entries of a kind for what is known of them only then. */
  measure: game.extend({ kind: z.enum(KINDS) }),
  'search-inside': game.extend({
    text: z.string().max(400).default(''),
    hex: z.string().max(400).default(''),
    /** Hash of a name, 16 digits, looked for beside the text in either byte order. */
    hash: z
      .string()
      .regex(/^([0-9a-f]{16})?$/)
      .default(''),
    folder: z.string().max(2000).default(''),
    search: z.string().max(2000).default(''),
  }),
  'group-looks': game.extend({
    folder: z.string().max(2000).default(''),
    search: z.string().max(2000).default(''),
  }),
  'find-alike': game.extend({ archiveId: z.int().positive(), index: z.int().nonnegative() }),
  build: game.extend({
    modId: z.int().positive(),
    way: z.enum(BUILD_WAYS).default('shifted'),
    keepDamaged: z.boolean().default(false),
  }),
  'weigh-ways': game.extend({ modId: z.int().positive() }),
  'write-build': game.extend({ buildId: z.int().positive(), folder: z.string().min(1).max(4096) }),
  install: game.extend({ buildId: z.int().positive() }),
  'take-out': game.extend({ modId: z.int().positive() }),
  restore: game.extend({ changed: z.enum(['ask', 'replace', 'leave']).default('ask') }),
  // In the language that is chosen in the game's menu; as it is set where nothing is said.
  trial: game.extend({
    tongue: z
      .string()
      .regex(/^[A-Za-z_-]{1,20}$/)
      .optional(),
  }),
  /** Codes a film that was given into the streams of one of the game's. */
  'make-film': game.extend({
    modId: z.int().positive(),
    archiveId: z.int().positive(),
    index: z.int().nonnegative().optional(),
    wish: FilmWish,
  }),
} as const;

export type JobKind = keyof typeof JOB_INPUTS;

/** Jobs that go on where they were when they are begun again: they can be paused, and outlive the end of a worker. */
export const RESUMED: readonly JobKind[] = ['run-recipe', 'extract', 'measure'];
/** Jobs that rest where they are: they can be paused as long as their worker lives, and begin anew where it does not. */
export const HELD: readonly JobKind[] = ['make-film'];
/**
 * Asked for again in the same words while it waits, one of these is the same job: what it does follows from the state in which it begins.
 * Those in `running` are the same while they run, too, since the second would find done what the first does.
 */
export const ASKED_ONCE: { readonly waiting: readonly JobKind[]; readonly running: readonly JobKind[] } = {
  waiting: [
    'scan',
    'learn-names',
    'measure',
    'group-looks',
    'build',
    'weigh-ways',
    'write-build',
    'trial',
    'install',
    'take-out',
    'restore',
  ],
  running: ['install', 'take-out', 'restore', 'write-build', 'measure'],
};
export type JobInput<K extends JobKind> = z.infer<(typeof JOB_INPUTS)[K]>;

export const JOB_STATES = {
  waiting: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  paused: 'paused',
} as const;
export type JobState = keyof typeof JOB_STATES;

/** How far a job is. */
export interface Progress {
  readonly done: number;
  readonly total: number;
  readonly unit: 'bytes' | 'items';
  readonly item: string;
  /** Of a job that counts items and knows how much they are in all. */
  readonly bytes?: { readonly done: number; readonly total: number } | undefined;
  /** A picture of what is ready, as an address of its own. */
  readonly shown?: string | undefined;
  /** Milliseconds since 1970 at which the job began. */
  readonly since: number;
}

/** Jobs of the first queue are done one after the other by a worker; those of the second, which take long, get on side by side. */
export const QUEUES = ['work', 'extractions'] as const;
export type Queue = (typeof QUEUES)[number];
export const queueOf = (kind: string): Queue =>
  [...RESUMED, ...HELD].includes(kind as JobKind) ? 'extractions' : 'work';
/** Channel on which the database tells every process that a job has moved. */
export const JOB_CHANNEL = 'zero_latch_jobs';
