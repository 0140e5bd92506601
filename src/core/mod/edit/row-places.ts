import type { Archive, Entry } from '../../archive';
import type { Items } from '../../script';
import { notEditable } from './list-edits';
import { listAround, listsBeside } from './list-places';
import type { RowPlace } from './new-row';

/** Where rows stand, worked out once for each list. */
export class RowPlaces {
  private readonly known = new Map<Items, RowPlace>();

  constructor(private readonly archive: Archive) {}

  /** Throws FormatError where it stands in no list, or its bytes lie in pieces. */
  of(entry: Entry): RowPlace {
    const { row, group } = entry;
    if (group.payload.sort === 'pieces') throw notEditable('its entries lie in pieces');
    const known = row.siblings && this.known.get(row.siblings);
    if (known && known.like.group === group) return { ...known, like: entry };
    const rows = listAround(this.archive, row);
    if (!rows) throw notEditable(`${row.path} stands in no list`);
    const place = { rows, beside: listsBeside(this.archive, group, rows), like: entry };
    this.known.set(rows.items, place);
    return place;
  }
}
