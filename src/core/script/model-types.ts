import type { ByteOrder, Compiled } from './types';

/** Numbers, each by an expression of its own, or all as a list by one. */
export type Numbers = readonly Compiled[];

/** One field of the items of a stream of a model. */
export interface ModelFieldType {
  readonly name: string;
  readonly at: Compiled;
  /** A text: how its numbers are kept. */
  readonly as: Compiled;
  readonly times: Numbers;
  readonly plus: Numbers;
  /** Of times: how many of its units a second has. */
  readonly perSecond: Compiled | undefined;
  /** Letters in the order in which its numbers are kept, such as `wxyz`. */
  readonly order: string | undefined;
}

/** What an entry is to the model that the file is: one of its streams. */
export interface ModelStreamType {
  readonly stream: 'vertices' | 'triangles' | 'keys' | 'shape';
  readonly order: ByteOrder;
  /** The mesh that it belongs to, by number or name; the only one where nothing is said. */
  readonly of: Compiled | undefined;
  readonly count: Compiled | undefined;
  readonly stride: Compiled | undefined;
  readonly first: Compiled | undefined;
  readonly fields: readonly ModelFieldType[];
  /** Of triangles: a text, how a corner is kept; whether they are drawn as a strip; the number that ends one. */
  readonly as: Compiled | undefined;
  readonly strip: Compiled | undefined;
  readonly ends: Compiled | undefined;
  /** Of vertices: the bones that their joints are numbers in a list of. */
  readonly bones: Compiled | undefined;
  /** Of keys: the number of the clip and of the bone, and a text: what of it moves. */
  readonly clip: Compiled | undefined;
  readonly bone: Compiled | undefined;
  readonly moves: Compiled | undefined;
  /** Of a shape: what it is called; and whether places are by how much a vertex is moved, or where it is. */
  readonly name: Compiled | undefined;
  readonly relative: 'rest' | 'model';
}

/** A script that describes models says how their space lies, and what their rows mean. */
export interface ModelType {
  readonly up: 'x' | 'y' | 'z';
  readonly handed: 'right' | 'left';
  readonly unit: Compiled | undefined;
  /** How the corners of a triangle go round, seen from in front. */
  readonly front: 'counter-clockwise' | 'clockwise';
  /** Where the second texture coordinate begins. */
  readonly coordinates: 'top' | 'bottom';
  readonly bones:
    | {
        readonly each: Compiled;
        readonly name: Compiled | undefined;
        readonly parent: Compiled;
        readonly place: Numbers;
        readonly turn: Numbers;
        readonly size: Numbers;
        /** In place of these: 12 or 16 numbers, column by column. */
        readonly matrix: Numbers;
        readonly relative: 'parent' | 'model';
        readonly inverse: Numbers;
      }
    | undefined;
  readonly materials:
    | {
        readonly each: Compiled;
        readonly name: Compiled | undefined;
        readonly colour: Numbers;
        readonly pictures: readonly { readonly role: string; readonly path: Compiled }[];
        readonly twoSided: Compiled | undefined;
      }
    | undefined;
  readonly parts:
    | {
        readonly each: Compiled;
        readonly name: Compiled | undefined;
        readonly of: Compiled | undefined;
        readonly material: Compiled | undefined;
        readonly level: Compiled | undefined;
        /** The first corner in the mesh's triangles, how many there are, and what is added to each. */
        readonly first: Compiled | undefined;
        readonly count: Compiled | undefined;
        readonly base: Compiled | undefined;
        /** The corners of the box around it, where the file keeps them: three numbers each. */
        readonly low: Numbers;
        readonly high: Numbers;
      }
    | undefined;
  readonly clips:
    | {
        readonly each: Compiled;
        readonly name: Compiled | undefined;
        readonly group: Compiled | undefined;
        readonly rate: Compiled | undefined;
        readonly loop: Compiled | undefined;
        /** Of a clip that shows shapes one after the other: the number of the first, and how many there are. */
        readonly frames: { readonly first: Compiled | undefined; readonly count: Compiled } | undefined;
      }
    | undefined;
}
