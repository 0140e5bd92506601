import type { NumberNames } from './number-names';
import type { Kind } from '../kinds';
import type { Rest } from './rest';
import type { Digits } from './digits';
import type { Evaluation } from './evaluation';
import type { RecordNode } from './model';
import type { ModelStreamType, ModelType } from './model-types';
import type { Scalar } from './scalars';
import type { TextEncoding } from './texts';
import type { Value } from './values';
import type { VariableInteger } from './variable-integers';

/** An expression that only scales and shifts one field of its own record, or a number alone. */
export interface Linear {
  /** Undefined where the expression is just `plus`. */
  readonly name: string | undefined;
  readonly times: number;
  readonly plus: number;
}

/** An expression made ready to run. */
export interface Compiled {
  readonly text: string;
  /** Every name that it mentions, for dependencies. */
  readonly mentions: ReadonlySet<string>;
  /** `plain(x)` and `stored(x)`: the names x whose bytes it goes through. */
  readonly bytesOf: ReadonlySet<string>;
  /** Hashes taken of `plain(payload)`, so that one pass over the payload can take them all. */
  readonly hashesPayload: ReadonlySet<string>;
  readonly linear: Linear | undefined;
  /** Works out a whole column of numbers at once; undefined where the expression needs more than that. */
  readonly column: ColumnExpression | undefined;
  run(context: Evaluation, node: RecordNode | undefined): Value;
}

/** Where the leaves of a column expression come from; undefined where one is not to be had. */
export interface ColumnInputs {
  readonly from: number;
  readonly count: number;
  field(name: string): Float64Array | undefined;
  special(name: 'position' | 'place' | 'stored' | 'plain'): Float64Array | undefined;
}

/** Gives undefined where some value would not be exact that way; the caller then goes row by row. */
export type ColumnExpression = (inputs: ColumnInputs) => Float64Array | undefined;

/** Little or big, or as the script's `byte order` rule says for this archive. */
export type ByteOrder = 'little' | 'big' | 'ruled';

/** How a field's bytes become a value. */
export type FieldShape =
  | { sort: 'scalar'; scalar: Scalar; order: ByteOrder }
  | { sort: 'variable'; integer: VariableInteger }
  | { sort: 'digits'; digits: Digits }
  | { sort: 'bytes'; size: Compiled | Rest }
  | { sort: 'text'; size: Compiled | Rest; encoding: TextEncoding; fill: number }
  | { sort: 'ended text'; encoding: TextEncoding; end: number }
  | { sort: 'counted text'; scalar: Scalar; order: ByteOrder; encoding: TextEncoding }
  | { sort: 'padding'; size: Compiled | undefined; align: Compiled | undefined; fill: number }
  | { sort: 'bits'; container: number; from: number; width: number; signed: boolean }
  | { sort: 'none' }
  | { sort: 'record'; name: string }
  | {
      sort: 'choice';
      by: Compiled;
      cases: ReadonlyMap<string, FieldShape>;
      otherwise: FieldShape | undefined;
    };

/**
 * Where a field's value comes from when an archive is written: it must equal a value, is kept, follows
 * from something else, or is chosen by a rule. A computed field takes no bytes; a composed one holds bits.
 */
export type FieldRole =
  | { sort: 'fixed'; value: Value }
  | { sort: 'carried' }
  | { sort: 'derived'; from: Compiled; deep: boolean }
  | { sort: 'free'; rule: Compiled }
  /** With `fixed`: it must equal that. */
  | { sort: 'computed'; from: Compiled; fixed: Compiled | undefined }
  | { sort: 'composed'; fields: readonly number[] };

export type Repeat =
  | { sort: 'count'; count: Compiled }
  | { sort: 'rest' }
  /** Ends with the first item for which it is true; that one belongs to the list. */
  | { sort: 'until'; condition: Compiled }
  /** Looked at before each item. */
  | { sort: 'while'; condition: Compiled };

export interface FieldType {
  readonly name: string;
  readonly index: number;
  readonly shape: FieldShape;
  role: FieldRole;
  readonly condition: Compiled | undefined;
  readonly repeat: Repeat | undefined;
  /** Set where the field is a region: bytes of a stated size, unsealed before its shape applies. */
  readonly region: { size: Compiled | Rest; seal: readonly SealStep[] } | undefined;
  /** Key that is wrong when this derived field does not hold. */
  readonly proves: string | undefined;
  /** Values that it may have, by their names. */
  readonly choices: ReadonlyMap<string, Value> | undefined;
  /** Derived fields of the same record that must hold before the region's content is looked at. */
  guards: readonly FieldType[];
  /** Whether entries keep their payload in this field. */
  isPayload: boolean;
}

export interface RecordType {
  readonly name: string;
  readonly fields: readonly FieldType[];
  readonly byName: ReadonlyMap<string, number>;
  /** Where the fields begin that lie at the same place in each record, from the first on, and the one behind them. */
  leading: readonly number[];
  /** The fewest bytes that one can take. */
  leastLength: number;
  /** Whether its length can change when an archive is written. */
  elastic: boolean;
  /** Whether a list of them can be kept in columns. */
  flat: boolean;
  /** Whether its bytes are the same whenever the archive is written, since nothing in it follows from anything. */
  constant: boolean;
}

/** One step on the way from stored to plain bytes. */
export type SealStep = { readonly condition: Compiled | undefined } & (
  | {
      sort: 'codec';
      codec: string;
      size: Compiled | undefined;
      settings: ReadonlyMap<string, Compiled>;
    }
  | {
      sort: 'cipher';
      cipher: string;
      key: Compiled | undefined;
      iv: Compiled | undefined;
      settings: ReadonlyMap<string, Compiled>;
      /** Bytes in front that stay as they are. */
      skip: Compiled | undefined;
      /** Where the cipher applies: the first bytes only, every nth block, or all. */
      first: Compiled | undefined;
      every: { nth: Compiled; of: Compiled } | undefined;
      /** Last bytes that make no whole block stay as they are. */
      tail: 'refused' | 'kept';
    }
  | {
      sort: 'blocks';
      /** Plain bytes a block. */
      plain: Compiled;
      /** Plain bytes in all. */
      total: Compiled;
      /** Where the stored sizes stand: in a table before all blocks, or before each one. */
      table: { scalar: Scalar; order: ByteOrder; each: boolean } | undefined;
      /** Stored sizes kept elsewhere. */
      sizes: Compiled | undefined;
      /** Bit in the table that marks a block stored as it is; 0 for none. */
      rawBit: number;
      /** Whether a block whose stored size is its plain size is stored as it is. */
      rawWhenFull: boolean;
      align: Compiled | undefined;
      codec: string;
      settings: ReadonlyMap<string, Compiled>;
    }
);

/** Another file that belongs to the archive, or the bytes inside one of its fields taken for a file. */
export interface FileType {
  readonly name: string;
  readonly index: number;
  /** Whether there are several, told apart by number. */
  readonly several: boolean;
  /** How many there are; undefined where only those exist that something points into. */
  readonly count: Compiled | undefined;
  readonly from:
    | { sort: 'beside'; name: Compiled }
    /** In a field of one record, or one piece after the other in a field of each of several. */
    | {
        sort: 'inside';
        of: Compiled;
        inPieces: boolean;
        field: string;
        /** Pieces are cut in multiples of so many bytes. */
        unit: Compiled | undefined;
        seal: readonly SealStep[];
      };
}

/** The file that a part or payload lies in: `data`, or one of several as in `volumes[number]`. */
export interface FileChoice {
  readonly name: string;
  readonly number: Compiled | undefined;
}

export interface PartType {
  readonly name: string;
  readonly index: number;
  readonly record: string;
  readonly at: Compiled;
  readonly condition: Compiled | undefined;
  readonly repeat: Repeat | undefined;
  /** For linked parts: where the next one lies, 0 at the end. */
  readonly next: Compiled | undefined;
  /** One record for every item of this list; `at` is then said in terms of the item. */
  readonly each: Compiled | undefined;
  readonly align: Compiled | undefined;
  /** Undefined for the file that was opened; one of several without a number means one record in each. */
  readonly file: FileChoice | undefined;
}

/** Where an entry's bytes are. */
export type PayloadType =
  | { sort: 'placed'; at: Compiled; size: Compiled; file: FileChoice | undefined }
  /** One after the other from a place on, in the order of the rows. */
  | { sort: 'in order'; from: Compiled; size: Compiled; file: FileChoice | undefined }
  /** Cut into pieces that lie in a field of several records. */
  | { sort: 'pieces'; pieces: Compiled; field: string; unit: Compiled | undefined }
  /** In a field of the row, or of the record that `of` names. */
  | { sort: 'field'; field: string; of: Compiled | undefined };

export interface EntriesType {
  readonly each: Compiled;
  readonly where: Compiled | undefined;
  readonly path: Compiled | undefined;
  readonly hash: Compiled | undefined;
  readonly hashing: NameHashing | undefined;
  readonly names: Compiled | undefined;
  /** Plain bytes; undefined where nothing says so before the payload is opened. */
  readonly size: Compiled | undefined;
  readonly modified: Compiled | undefined;
  /** Fields that lists show of each entry, with their titles. */
  readonly shown: readonly ShownField[];
  /** Rows must stand in the order of this, equal ones beside each other. */
  readonly sorted: Compiled | undefined;
  readonly payload: PayloadType;
  readonly align: Compiled | undefined;
  /** The byte that fills the room before an aligned payload. */
  readonly fill: number;
  readonly seal: readonly SealStep[];
  /** Whether payloads may change places when everything is chosen anew. */
  readonly anyOrder: boolean;
  /** Whether entries with the same stored bytes share one place when they are written. */
  readonly identical: 'once' | 'each';
  /** What its entries are, where the archive says how their bytes are to be read. */
  readonly picture: PictureType | undefined;
  readonly sound: SoundType | undefined;
  /** What its entries are to a film, where the archive is one. */
  readonly film: FilmTrackType | undefined;
  /** What its entries are to a model, where the file is one. */
  readonly model: ModelStreamType | undefined;
  /** The kind of its entries, where one of these says it. */
  readonly kind: Kind | undefined;
}

/** What an entry of an archive that is a film is to it: one of its streams. */
export interface FilmTrackType {
  /** A text: `picture`, `sound`, `marks` or `subtitles`. */
  readonly track: Compiled;
  /** A text: the language that it is in; empty for all. */
  readonly language: Compiled | undefined;
  /** A text: what ffmpeg calls what reads its stream, where its first bytes do not tell; empty where they do. */
  readonly demuxer: Compiled | undefined;
  /** A text: how its stream falls into pieces, where it lies in pieces. */
  readonly cut: Compiled | undefined;
  /** The field of a piece that says when it is shown, as the names of fields that lead to it. */
  readonly time: readonly string[] | undefined;
  /** How many units of time a second has. */
  readonly perSecond: Compiled | undefined;
  /** Marks that begin with `word` show a text: its key in tables of that name, one for each language, and for how long. */
  readonly subtitles: { readonly word: string; readonly tables: string } | undefined;
}

/** How a path becomes the number that an archive keeps in its stead. */
export interface NameHashing {
  readonly hash: string;
  readonly seed: Compiled | undefined;
  readonly spelling: 'kept' | 'lower' | 'upper';
  readonly separator: string;
  readonly extension: 'kept' | 'dropped';
  readonly encoding: TextEncoding;
  readonly before: string;
  readonly behind: string;
  /** The part of a wide hash that is kept. */
  readonly half: 'first' | 'last' | undefined;
  readonly bits: number;
}

/** What makes a file look like this format. */
export interface Mark {
  /** Counted from the end of the file where negative. */
  readonly at: number;
  readonly bytes: Uint8Array;
}

export interface KeyType {
  readonly name: string;
  readonly length: number | undefined;
  readonly about: string;
}

export interface ParameterType {
  readonly name: string;
  readonly about: string;
  readonly default: Value;
  readonly oneOf: readonly Value[] | undefined;
}

/** A value that is shown under a title. */
export interface ShownField {
  readonly title: string;
  readonly value: Compiled;
}

/** Where the colours of a palette are, and what they are like. */
export interface PaletteType {
  readonly from:
    | { readonly sort: 'bytes'; readonly bytes: Compiled }
    | { readonly sort: 'entry'; readonly path: Compiled; readonly skip: Compiled | undefined }
    | { readonly sort: 'written'; readonly colours: Uint8Array };
  /** A pixel layout of whole texels; of written colours there is none. */
  readonly layout: Compiled | undefined;
  readonly clear: Compiled | undefined;
}

/** A script that describes pictures says what its fields mean for looking at them. */
export interface PictureType {
  readonly width: Compiled;
  readonly height: Compiled;
  readonly layout: Compiled;
  readonly levels: Compiled | undefined;
  /** Bytes of an entry before its first texel; where it is said, what lies behind the texels is kept as well. */
  readonly first: Compiled | undefined;
  readonly rows:
    | {
        readonly align: Compiled | undefined;
        readonly bytes: Compiled | undefined;
        readonly bottomFirst: Compiled | undefined;
        readonly interlace: Compiled | undefined;
      }
    | undefined;
  readonly planes:
    | {
        readonly of: 'bits' | 'channels' | 'columns';
        readonly count: Compiled | undefined;
        readonly by: 'row' | 'picture';
      }
    | undefined;
  readonly palette: PaletteType | undefined;
  /** The colour that is see-through: red, green, blue and alpha. */
  readonly key: Uint8Array | undefined;
  /** What the entries are to each other; only the first is looked at where nothing is said. */
  readonly several: 'frames' | 'faces' | 'layers' | undefined;
  readonly origin: { readonly x: Compiled; readonly y: Compiled } | undefined;
}

/** A script that describes sounds says how their samples are kept. */
export interface SoundType {
  readonly codec: Compiled;
  /** What ffmpeg calls the form of one that it reads, and what decodes it where that does not follow. */
  readonly demuxer: Compiled | undefined;
  readonly decoder: Compiled | undefined;
  readonly rate: Compiled | undefined;
  readonly channels: Compiled | undefined;
  readonly bits: Compiled | undefined;
  readonly order: 'little' | 'big';
  readonly isSigned: Compiled | undefined;
  /** Of codes in blocks: bytes of a block, whether each channel begins it with its state, which half of a byte comes first, and bytes of a channel in turn. */
  readonly block: Compiled | undefined;
  readonly heads: Compiled | undefined;
  readonly highFirst: Compiled | undefined;
  readonly turn: Compiled | undefined;
  /** Of codes without blocks: the sample that stands before the first one; none of its own. */
  readonly start: Compiled | undefined;
  /** Bytes before the first sample, and how many frames there are; all that is left where nothing is said. */
  readonly first: Compiled | undefined;
  readonly samples: Compiled | undefined;
  readonly loop: { readonly from: Compiled; readonly to: Compiled } | undefined;
  readonly markers: Compiled | undefined;
  /** For how many samples a mouth moves to it, and how many the program takes at most. */
  readonly lips: Compiled | undefined;
  readonly longest: Compiled | undefined;
  /** Other ways in which the same bytes may have to be read, where nothing in them says which; what sounds like a sound is taken. */
  readonly others: readonly SoundType[];
}

/** What the entries of a file are where they are texts: expressions of the row of each. */
export interface LinesType {
  readonly encoding: TextEncoding;
  /** How many units of zero stand behind each text and belong to it. */
  readonly ends: Compiled | undefined;
  /** What the game asks for it by; its path where nothing is said. */
  readonly key: Compiled | undefined;
  readonly language: Compiled | undefined;
  readonly speaker: Compiled | undefined;
  readonly note: Compiled | undefined;
  /** How long it may be; 0 where nothing bounds it. */
  readonly limit: Compiled | undefined;
  readonly limitIn: 'bytes' | 'characters';
  /** How wide it may be drawn, in units of its font; 0 where nothing bounds it. */
  readonly width: Compiled | undefined;
  /** The path of the font that it is drawn with. */
  readonly font: Compiled | undefined;
}

/** What the entries of a file are where they are rows of a table: the cells of each, by expressions of its row. */
export interface TableType {
  /** What the table is called; empty where nothing is said. */
  readonly name: Compiled | undefined;
  readonly columns: readonly TableColumn[];
}

/** A column of a table, with what its values mean. */
export interface TableColumn {
  readonly title: string;
  readonly value: Compiled;
  /** The table whose rows they are, by its name without folder and ending. */
  readonly means: string | undefined;
  /** What its numbers are called. */
  readonly called: NumberNames | undefined;
}

/** What the entries of a file are where they are signs of a font: expressions of the row of each. */
export interface FontType {
  /** Its code point. */
  readonly sign: Compiled;
  /** How far the next sign stands; 1 where nothing is said. */
  readonly width: Compiled | undefined;
}

/** How a file is known to be one of a script's. */
export interface Recognition {
  /** One of these sets of marks must be there whole. */
  readonly marks: readonly (readonly Mark[])[];
  /** Endings of the files it is for, such as `.box`; they decide between scripts with the same marks. */
  readonly endings: readonly string[];
  /** Whether it describes single files, such as a picture or a sound, and no archives of a game. */
  readonly isForFiles: boolean;
  /** What its files are: as it states, else as follows from what it is for; undefined where nothing tells. */
  readonly kind: Kind | undefined;
  readonly isKindStated: boolean;
}

export interface Script extends Recognition {
  readonly title: string;
  readonly about: string;
  readonly author: string;
  readonly terms: string;
  /** Versions on which it was tried. */
  readonly triedOn: readonly string[];
  /** Versions on which it should work, untried. */
  readonly meantFor: readonly string[];
  readonly text: string;
  readonly keys: ReadonlyMap<string, KeyType>;
  readonly parameters: ReadonlyMap<string, ParameterType>;
  readonly constants: ReadonlyMap<string, Value>;
  readonly records: ReadonlyMap<string, RecordType>;
  readonly files: ReadonlyMap<string, FileType>;
  readonly parts: readonly PartType[];
  readonly entries: readonly EntriesType[];
  readonly orderRule: Compiled | undefined;
  readonly picture: PictureType | undefined;
  readonly sound: SoundType | undefined;
  readonly model: ModelType | undefined;
  readonly lines: LinesType | undefined;
  readonly font: FontType | undefined;
  readonly table: TableType | undefined;
  /** What a file of this format tells of itself in lists, with titles. */
  readonly tells: readonly ShownField[];
  /** The carried number of a part by which the program orders its archives; the highest has its way. */
  readonly loadsBy: { readonly part: string; readonly field: string } | undefined;
  /** How many bytes an archive may have, all its files together, for the program to load it. */
  readonly mostBytes: Compiled | undefined;
}
