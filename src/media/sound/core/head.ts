import type { WayTaken } from './audio';

/** What the head of a file of this medium tells, enough for a row of a list. */
export interface SoundHead {
  readonly sort: 'sound';
  readonly codec: string;
  readonly seconds?: number | undefined;
  readonly rate?: number | undefined;
  readonly channels?: number | undefined;
  readonly bits?: number | undefined;
  /** Where it is played again and again, and places in it, in seconds; only where it is looked at closely. */
  readonly loop?: { readonly from: number; readonly to: number } | undefined;
  readonly cues?: readonly number[] | undefined;
  /** Where its bytes could be read in several ways; `script` is the title of that which says so. */
  readonly ways?: (WayTaken & { readonly script: string }) | undefined;
}
