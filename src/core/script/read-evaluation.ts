import {
  FormatError,
  collect,
  concatRefs,
  refOfBytes,
  refOfSpan,
  type BytesRef,
  type ByteSource,
} from '../bytes';
import type { Primitives } from '../primitives';
import type { Budget } from './budget';
import type { Evaluation, Placed, PlainRef } from './evaluation';
import { absolute, type PayloadHandle, type RecordNode, type RegionNode } from './model';
import type { KeyType } from './types';
import type { Value } from './values';
import { fieldOffset, valueLength } from './verify';

export type Keys = ReadonlyMap<string, Uint8Array>;

/** Where the payload of an entry lies and how to open it; the archive supplies it. */
export interface PayloadAccess {
  handleOf(row: RecordNode): PayloadHandle | undefined;
  place(payload: PayloadHandle): number;
  storedLength(payload: PayloadHandle): number;
  plain(payload: PayloadHandle): PlainRef;
}

/** The archive as it is, seen from an expression. */
export class ReadEvaluation implements Evaluation {
  readonly parts = new Map<string, Value>();
  payloads: PayloadAccess | undefined;

  constructor(
    readonly source: ByteSource,
    readonly primitives: Primitives,
    private readonly keyTypes: ReadonlyMap<string, KeyType>,
    private readonly keys: Keys,
    private readonly budget: Budget,
  ) {}

  get fileSize(): number {
    return this.source.length;
  }

  key(name: string): Uint8Array {
    const found = this.keys.get(name);
    const type = this.keyTypes.get(name);
    if (!found)
      throw new FormatError('key-missing', {
        why: `the key '${name}'${type?.about ? ` (${type.about})` : ''} is not given`,
        remedy: 'Add the key to the keyring, or give it with --key',
      });
    if (type?.length !== undefined && found.length !== type.length)
      throw new FormatError('key-wrong', {
        expected: `a key '${name}' of ${type.length} bytes`,
        actual: `${found.length} bytes`,
        remedy: 'Check that the whole key was pasted',
      });
    return found;
  }

  part(name: string): Value {
    return this.parts.get(name);
  }

  hasPart(name: string): boolean {
    return this.parts.has(name);
  }

  field(node: RecordNode, index: number): Value {
    return node.values[index];
  }

  content(region: RegionNode): Value {
    return region.content;
  }

  place(thing: Placed): number {
    return thing.sort === 'payload' ? this.access().place(thing) : absolute(thing.space, thing.offset);
  }

  storedLength(thing: Placed): number {
    if (thing.sort === 'payload') return this.access().storedLength(thing);
    return thing.sort === 'record' ? thing.length : thing.storedLength;
  }

  stored(thing: Placed): BytesRef {
    const source = thing.sort === 'payload' ? this.source : thing.space.source;
    const offset = thing.sort === 'payload' ? this.place(thing) : thing.offset;
    return refOfSpan(source, offset, this.storedLength(thing));
  }

  plain(thing: RegionNode | PayloadHandle): PlainRef {
    return thing.sort === 'region' ? refOfBytes(thing.plain) : this.access().plain(thing);
  }

  around(node: RecordNode, name: string, mode: 'before' | 'zeroed'): BytesRef {
    const field = node.type.fields[node.type.byName.get(name) ?? -1];
    if (!field)
      throw new FormatError('script-wrong', {
        expected: `a field of ${node.type.name}`,
        actual: `'${name}'`,
      });
    const at = fieldOffset(node, field, this);
    const { source } = node.space;
    const before = refOfSpan(source, node.offset, at);
    if (mode === 'before') return before;
    const length = valueLength(node.values[field.index], field, node, this);
    const rest = at + length;
    return concatRefs([
      refOfBytes(collect(before)),
      refOfBytes(new Uint8Array(length)),
      refOfBytes(collect(refOfSpan(source, node.offset + rest, node.length - rest))),
    ]);
  }

  payloadOf(row: RecordNode): PayloadHandle | undefined {
    return this.payloads?.handleOf(row);
  }

  spend(steps: number): void {
    this.budget.spendSteps(steps);
  }

  private access(): PayloadAccess {
    if (this.payloads) return this.payloads;
    throw new FormatError('bad-value', {
      expected: 'entries to be known',
      why: 'payloads are looked at after the tables',
    });
  }
}
