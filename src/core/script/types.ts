import type { Scalar } from './scalars';
import type { TextEncoding } from './texts';
import type { Value } from './values';
import type { Evaluation } from './evaluation';
import type { RecordNode } from './model';

/** An expression made ready to run. */
export interface Compiled {
  readonly text: string;
  /** Every name that it mentions, for dependencies. */
  readonly mentions: ReadonlySet<string>;
  /** `plain(x)` and `stored(x)`: the names x whose bytes it goes through. */
  readonly bytesOf: ReadonlySet<string>;
  /** Hashes taken of `plain(payload)`, so that one pass over the payload can take them all. */
  readonly hashesPayload: ReadonlySet<string>;
  run(context: Evaluation, node: RecordNode | undefined): Value;
}

/** How a field's bytes become a value. */
export type FieldShape =
  | { sort: 'scalar'; scalar: Scalar; little: boolean }
  | { sort: 'bytes'; size: Compiled | 'rest' }
  | { sort: 'text'; size: Compiled | 'rest' | 'terminated'; encoding: TextEncoding }
  | { sort: 'record'; name: string };

/**
 * Where a field's value comes from when an archive is written: it must equal a value, is kept, follows
 * from something else, or is chosen by a rule.
 */
export type FieldRole =
  | { sort: 'fixed'; value: Value }
  | { sort: 'carried' }
  | { sort: 'derived'; from: Compiled; deep: boolean }
  | { sort: 'free'; rule: Compiled };

export type Repeat = { sort: 'count'; count: Compiled } | { sort: 'rest' };

export interface FieldType {
  readonly name: string;
  readonly index: number;
  readonly shape: FieldShape;
  readonly role: FieldRole;
  readonly condition: Compiled | undefined;
  readonly repeat: Repeat | undefined;
  /** Set where the field is a region: bytes of a stated size, unsealed before its shape applies. */
  readonly region: { size: Compiled; seal: readonly SealStep[] } | undefined;
  /** Key that is wrong when this derived field does not hold. */
  readonly proves: string | undefined;
  /** Derived fields of the same record that must hold before the region's content is looked at. */
  guards: readonly FieldType[];
}

export interface RecordType {
  readonly name: string;
  readonly fields: readonly FieldType[];
  readonly byName: ReadonlyMap<string, number>;
  /** The fewest bytes that one can take. */
  leastLength: number;
}

/** One step on the way from stored to plain bytes. */
export type SealStep = { readonly condition: Compiled | undefined } & (
  | { sort: 'codec'; codec: string; size: Compiled | undefined }
  | { sort: 'cipher'; cipher: string; key: Compiled; iv: Compiled | undefined }
  | {
      sort: 'blocks';
      /** Plain bytes a block. */
      plain: Compiled;
      /** Plain bytes in all. */
      total: Compiled;
      scalar: Scalar;
      little: boolean;
      /** Bit in the table that marks a block stored as it is; 0 for none. */
      rawBit: number;
      codec: string;
    }
);

export interface PartType {
  readonly name: string;
  readonly record: string;
  readonly at: Compiled;
  readonly condition: Compiled | undefined;
  readonly count: Compiled | undefined;
  /** For linked parts: where the next one lies, 0 at the end. */
  readonly next: Compiled | undefined;
  readonly align: Compiled | undefined;
}

export interface EntriesType {
  readonly each: Compiled;
  readonly path: Compiled | undefined;
  readonly hash: Compiled | undefined;
  readonly hashing: NameHashing | undefined;
  readonly names: Compiled | undefined;
  readonly size: Compiled;
  readonly at: Compiled;
  readonly storedSize: Compiled;
  readonly align: Compiled | undefined;
  readonly seal: readonly SealStep[];
  /** Whether payloads may change places when everything is chosen anew. */
  readonly anyOrder: boolean;
}

/** How a path becomes the number that an archive keeps in its stead. */
export interface NameHashing {
  readonly hash: string;
  readonly lowerCase: boolean;
  readonly separator: '/' | '\\';
}

/** What makes a file look like this format. */
export interface Mark {
  readonly at: number;
  readonly bytes: Uint8Array;
}

export interface KeyType {
  readonly name: string;
  readonly length: number | undefined;
  readonly about: string;
}

/** A script that describes a picture says what its fields mean for looking at it. */
export interface PictureType {
  readonly width: Compiled;
  readonly height: Compiled;
  readonly layout: Compiled;
  readonly levels: Compiled | undefined;
}

export interface Script {
  readonly title: string;
  readonly about: string;
  readonly author: string;
  readonly triedOn: readonly string[];
  readonly text: string;
  readonly marks: readonly Mark[];
  readonly keys: ReadonlyMap<string, KeyType>;
  readonly constants: ReadonlyMap<string, Value>;
  readonly records: ReadonlyMap<string, RecordType>;
  readonly parts: readonly PartType[];
  readonly entries: EntriesType;
  readonly picture: PictureType | undefined;
}
