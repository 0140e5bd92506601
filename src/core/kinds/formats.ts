/** Bytes at a place, as Latin-1. */
export interface Sign {
  readonly at: number;
  readonly text: string;
}

/** What open formats of one kind are known by. An ending stands for a format. */
export interface MediumFormats {
  /** Formats that begin with fixed bytes, all of which have to be there. */
  readonly signs: readonly (readonly [ending: string, ...signs: Sign[]])[];
  /** Forms of RIFF (Multimedia Programming Interface 1.0). */
  readonly riff?: Readonly<Record<string, string>>;
  /** Brands of ISO base media (ISO 14496-12). */
  readonly brands?: readonly (readonly [brand: RegExp, ending: string])[];
  /** How the first page of Ogg (RFC 3533) goes on, as Latin-1. */
  readonly ogg?: readonly (readonly [start: string, ending: string])[];
  /** Whether it is what these containers hold where nothing else tells. */
  readonly plain?: { readonly ogg?: string; readonly iso?: string };
  /** Formats without fixed bytes but perhaps the first one; what follows has to bear them out. */
  readonly tellers?: readonly {
    readonly first?: number;
    readonly ending: string;
    readonly isIt: (head: Uint8Array) => boolean;
  }[];
  /** A format that no sign tells, but whose head says how long all of it is. */
  readonly byLength?: (head: Uint8Array, length: number) => string | undefined;
  readonly endings: {
    /** Formats that always begin with a sign, so that bytes without one are none, whatever they are called. */
    readonly signed?: string;
    /** Formats that have none. */
    readonly unsigned?: string;
    /** Formats that are written as texts. */
    readonly written?: string;
    /** Of unsigned ones, whether bytes may be what their ending says. */
    readonly mayBe?: Readonly<Record<string, (head: Uint8Array) => boolean>>;
  };
  /** Endings of files that are a container with different things in it: the ending of that. */
  readonly containers?: Readonly<Record<string, string>>;
  /** Whether such files may name others by their paths; they may where nothing is said. */
  readonly namesOthers?: boolean;
  /** What a page in the browser can show or play as it is, by container. */
  readonly shown?: Readonly<Record<string, string>>;
}
