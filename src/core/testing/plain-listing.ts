import { FLAG, ListingBuilder, type FactColumn, type Listing } from '../catalogue';

/** A listing of named entries of one byte each, for tests that are about paths alone. */
export function plainListing(paths: readonly string[], facts: readonly FactColumn[] = []): Listing {
  const builder = new ListingBuilder(paths.length);
  for (const path of paths)
    builder.add({
      ...{ path, size: 1, stored: 1, modified: undefined, hash: undefined },
      ...{ kind: 'data', flags: FLAG.named, problem: undefined },
    });
  return builder.done(facts);
}
