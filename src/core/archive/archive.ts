import type { BytesRef, ByteSource, FormatError } from '../bytes';
import type {
  ArchiveFile,
  EntriesType,
  Evaluation,
  PlainRef,
  RecordNode,
  ResolvedStep,
  Script,
  Value,
} from '../script';

/** One thing in an archive. */
export interface Entry {
  /** Number in the order of the table, from 0. */
  readonly index: number;
  /** Number of the archive's file that the bytes are in; 0 for the one that was opened. */
  readonly file: number;
  /** The path as the archive spells it, with `/`, whatever that is: `portablePath` makes one for a disk of it. A stand-in where it has none. */
  readonly path: string;
  /** Whether the path comes from the archive or a name list. */
  readonly named: boolean;
  /** 16 hexadecimal digits where the archive keeps a hash of the name. */
  readonly hash: string | undefined;
  /** Offset of the stored bytes in the file. */
  readonly offset: number;
  readonly storedSize: number;
  /** Plain size in bytes, as the archive states it, or as opening the payload gives it where it says nothing. */
  readonly size: number;
  /** Seconds since 1970 where the archive says when it was changed. */
  readonly modified: number | undefined;
  /** What is wrong with this entry alone; the others are not harmed by it. */
  readonly problem: FormatError | undefined;
  readonly row: RecordNode;
  /** The record with the field that the bytes are in, where they are in one. */
  readonly holder: RecordNode | undefined;
  /** The records that hold the bytes piece by piece, where they are cut up. */
  readonly pieces: readonly RecordNode[] | undefined;
  readonly group: EntriesType;
}

/** A stretch of the file and what it is. */
export interface Stretch {
  readonly offset: number;
  readonly length: number;
  readonly what: string;
  /** Number of the archive's file. */
  readonly file: number;
}

export interface Coverage {
  readonly explained: number;
  /** Bytes that nothing in the script speaks of, kept as they are. */
  readonly gaps: readonly Stretch[];
  readonly overlaps: readonly Stretch[];
}

/** An archive whose tables have been read and hold. Payloads are read when they are asked for. */
export interface Archive {
  readonly script: Script;
  /** The file that was opened. */
  readonly source: ByteSource;
  /** All files that belong to it and were opened, that one first. */
  readonly files: readonly ArchiveFile[];
  /** What a file beside the opened one is called where that one is called `mainName`. */
  nameBeside(file: ArchiveFile, mainName: string): string;
  readonly context: Evaluation;
  readonly entries: readonly Entry[];
  /** How many derived fields were compared with what they follow from. */
  readonly fieldsHeld: number;
  readonly coverage: Coverage;
  /** Paths of fields over the payloads of several entries, which opening does not try; a list stands for its rows. */
  readonly leftToProof: readonly string[];
  /** Whether all plain bytes of an entry have been gone through, and everything over them held. */
  isLookedThrough(entry: Entry): boolean;
  /** Whether going through an entry's bytes would find damage: something is stated over them, or they are packed. */
  isChecked(entry: Entry): boolean;
  /** Lets go of what was unpacked into temporary files. */
  discard(): void;
  steps(entry: Entry): ResolvedStep[];
  stored(entry: Entry): BytesRef;
  /**
   * The plain bytes. Going through them to the end also checks every derived field over them; what does
   * not hold throws FormatError naming the entry, the field and the offset.
   */
  plain(entry: Entry): PlainRef;
  /**
   * What somebody needs who unpacks an entry elsewhere, without the archive: undefined where it takes more than one codec over one
   * stretch of a file, or where the size of what is packed is not stated.
   */
  outside(entry: Entry): OutsideWork | undefined;
}

/** An entry that is unpacked elsewhere. */
export interface OutsideWork {
  /** Name of the codec; undefined for bytes that lie as they are. */
  readonly codec: string | undefined;
  readonly stored: { readonly source: ByteSource; readonly offset: number; readonly length: number };
  /** Plain bytes that there have to be. */
  readonly length: number;
  /** Hashes over the plain bytes that have to be known to `settle`. */
  readonly hashes: readonly string[];
  /** Takes what came of it; throws FormatError where something over the plain bytes does not hold. */
  settle(known: ReadonlyMap<string, Value>, plainLength: number): void;
  /** The error of an entry that could not be unpacked. */
  failed(why: string): FormatError;
}
