/** How something given suits the slot it goes into. */
export type FitState = 'fits' | 'look' | 'does not fit';

/** What was found: a code and what is to be said with it, both of which are kept; the wording of its medium makes sentences of them. */
export interface Finding {
  readonly state: FitState;
  /** The medium whose wording has it, and its name there: `sound.clipped`. */
  readonly code: string;
  /** Values of JSON, as the wording of the code takes them. */
  readonly facts: object;
  /** The mend that would make it fit, by the name that `prepare` understands. */
  readonly mend?: Mend;
  /** Another way to make it fit. */
  readonly also?: Mend;
}

/** Mends by name; `as bc3` stores a picture in that pixel layout, whatever the slot has. */
export const MENDS = [
  'resize',
  'own size',
  'drop alpha',
  'convert codec',
  'convert sound',
  'convert text',
  'dither',
  'rescale',
  'stand up',
  'make levels',
] as const;
export type Mend = (typeof MENDS)[number] | `as ${string}`;
export const isMend = (name: string): name is Mend =>
  (MENDS as readonly string[]).includes(name) || /^as [a-z0-9-]{1,40}$/.test(name);

/** What a mod does with what is only worth a look: refuse it, point it out, or let it pass. */
export const POLICIES = ['refuse', 'warn', 'allow'] as const;
export type Policy = (typeof POLICIES)[number];

/** A replacement made ready for its slot, and what there is to say about it. */
export interface Prepared {
  /** The plain bytes that go into the archive; undefined while it does not fit. */
  readonly bytes: Uint8Array | undefined;
  readonly findings: readonly Finding[];
}

/** The worst of several findings. */
export function worst(findings: readonly { readonly state: FitState }[]): FitState {
  if (findings.some(({ state }) => state === 'does not fit')) return 'does not fit';
  return findings.some(({ state }) => state === 'look') ? 'look' : 'fits';
}

/** A fit as it is shown: what a policy lets pass is still no fit. */
export type FitShown = FitState | 'let pass';

/** How a change fits under the policy of its mod. What does not fit at all, no policy makes fit. */
export function under(policy: Policy, fit: FitState): FitShown {
  if (fit !== 'look') return fit;
  return policy === 'refuse' ? 'does not fit' : policy === 'allow' ? 'let pass' : 'look';
}
