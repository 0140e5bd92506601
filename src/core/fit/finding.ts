/** How something given suits the slot it goes into. */
export type FitState = 'fits' | 'look' | 'does not fit';

export interface Finding {
  readonly state: FitState;
  readonly what: string;
  /** Why the game cares. */
  readonly why: string;
  /** The mend that would make it fit, by the name that `prepare` understands. */
  readonly mend?: { readonly name: Mend; readonly label: string };
}

export type Mend = 'resize' | 'drop alpha' | 'convert sound' | 'convert text';

/** A replacement made ready for its slot, and what there is to say about it. */
export interface Prepared {
  /** The plain bytes that go into the archive; undefined while it does not fit. */
  readonly bytes: Uint8Array | undefined;
  readonly findings: readonly Finding[];
}

/** The worst of several findings. */
export function worst(findings: readonly Finding[]): FitState {
  if (findings.some(({ state }) => state === 'does not fit')) return 'does not fit';
  return findings.some(({ state }) => state === 'look') ? 'look' : 'fits';
}
