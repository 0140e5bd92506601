import type { Mend, Prepared } from '@/core/fit';
import type { ByteSource, BytesRef } from '@/core/bytes';
import type { Measured } from '@/core/catalogue';
import type { Kind } from '@/core/kinds';
import type { Converter } from '@/platform/node/convert/converter';
import type { MediaScripts } from '@/platform/node/media-scripts';
import type { Head } from './head';
import type { Look } from './look';
import type { EncodeImage, Pixels } from './picture/core/texture';
import type { TracksOf } from './sound/core/fit';

/** An entry or file that is looked at for its head. */
export interface HeadFile {
  /** The path it is known by. */
  readonly name: string;
  /** All of it, where any stretch can be had without unpacking the rest. */
  readonly source: ByteSource | undefined;
  /** The kind that its archive says it has, where it describes it. */
  readonly describedKind: Kind | undefined;
  /** Its first bytes, 256 KiB at most. */
  readonly first: Uint8Array;
  /** All of its bytes; undefined where they are too many to be held. What lies beside the entry is noted with them. */
  held(): Uint8Array | undefined;
}

/** Something that is given for a slot, or the slot itself. */
export interface MediumFile {
  readonly bytes: Uint8Array;
  readonly name: string;
}

/** The tools of whoever asks: they run beside whatever serves others. */
export interface MediaTools {
  readonly scripts: MediaScripts;
  /** Texels of a picture of any sort. */
  pixelsOf(bytes: Uint8Array, name: string): Promise<Pixels>;
  readonly encodeImage: EncodeImage;
  /** What a container of sound or film tells of itself. */
  readonly tracksOf: TracksOf;
}

/** An entry that is looked at, whose bytes are unpacked when they are asked for. */
export interface LookFile {
  readonly name: string;
  readonly size: number;
  /** Throws UserError where there are more than can be shown. */
  bytes(): Uint8Array;
}

export interface LookTools {
  readonly scripts: MediaScripts;
  /** Whether a picture has texels that are see-through. */
  isSeeThrough(bytes: Uint8Array, name: string): Promise<boolean>;
}

/** How entries of a medium are measured. */
export interface Measuring {
  /** What the job is called, before the title of the game, and what it has done to the entries it went through. */
  readonly words: { readonly job: string; readonly done: string; readonly known: string };
  /** What they are made into. */
  readonly by: Converter;
  /** What that is measured as. */
  of(made: BytesRef): Measured;
}

/** What a medium does where there is Node. */
export interface MediumNode {
  readonly kind: Kind;
  /** Whether it takes what could be many things, so that scripts that tell of their files are asked before it. */
  readonly isLast?: boolean;
  /** Ways to take entries out, by the names that `core/ways.ts` has. */
  readonly converters?: Readonly<Record<string, Converter>>;
  /** What is known of its entries only once they were decoded. */
  readonly measure?: Measuring;
  /** What a file tells of itself; undefined where it is none of this medium. */
  head?(file: HeadFile, scripts: MediaScripts): Promise<Head | undefined>;
  /** What is shown of a file with such a head besides what the head tells; undefined for a head of another medium. */
  look?(head: Head, file: LookFile, tools: LookTools): Promise<Look | undefined>;
  /**
   * Makes what is given ready for a slot. Undefined where the slot holds nothing of this medium. `kind` is what the slot counts as.
   * Throws UserError where what is given is not what its name says.
   */
  fit?(
    slot: MediumFile & { readonly kind: string },
    given: MediumFile,
    mends: ReadonlySet<Mend>,
    tools: MediaTools,
  ): Promise<Prepared | undefined>;
}
