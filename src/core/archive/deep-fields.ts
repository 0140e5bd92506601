import type { FieldType, RecordNode, RecordType } from '../script';
import type { Entry } from './archive';

/** Derived fields over the plain bytes of an entry: those of its row, and of the record that its payload lies in. */
export interface DeepFields {
  readonly ofRow: readonly FieldType[];
  readonly ofHolder: readonly FieldType[];
  readonly isEmpty: boolean;
  /** Hashes that have to be taken for them. */
  readonly hashes: ReadonlySet<string>;
}

/** Tells them, once for each kind of row and holder. */
export class DeepFieldTable {
  private readonly known = new Map<RecordType, Map<RecordType | undefined, DeepFields>>();

  of({ row, holder }: Entry): DeepFields {
    let byHolder = this.known.get(row.type);
    if (!byHolder) this.known.set(row.type, (byHolder = new Map<RecordType | undefined, DeepFields>()));
    const apart = holderApart(row, holder);
    let found = byHolder.get(apart);
    if (!found) byHolder.set(apart, (found = deepFields(row.type, apart)));
    return found;
  }
}

const holderApart = (row: RecordNode, holder: RecordNode | undefined): RecordType | undefined =>
  holder === row ? undefined : holder?.type;

function deepFields(row: RecordType, holder: RecordType | undefined): DeepFields {
  const deep = ({ fields }: RecordType): FieldType[] =>
    fields.filter(({ role }) => role.sort === 'derived' && role.deep);
  const [ofRow, ofHolder] = [deep(row), holder ? deep(holder) : []];
  const hashes = [...ofRow, ...ofHolder].flatMap(({ role }) =>
    role.sort === 'derived' ? [...role.from.hashesPayload] : [],
  );
  return { ofRow, ofHolder, isEmpty: ofRow.length + ofHolder.length === 0, hashes: new Set(hashes) };
}
