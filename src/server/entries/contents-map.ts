import { codeOfKind, KIND_CODES, KINDS } from '@/core/kinds';
import type { Folder } from '@/core/catalogue';
import { gameCatalogue } from './catalogue';

/** A part of what answers in a game. */
export interface MapPart {
  readonly name: string;
  readonly bytes: number;
  readonly count: number;
  /** Folder or kind to go to. */
  readonly target: string;
}

export interface ContentsMap {
  readonly folders: readonly MapPart[];
  readonly kinds: readonly MapPart[];
}

/** More rows than this nobody reads. */
const MOST_PARTS = 60;

/** What answers in a game by folder and by kind. */
export async function contentsMap(gameId: number): Promise<ContentsMap> {
  const game = await gameCatalogue(gameId);
  if (!game) return { folders: [], kinds: [] };
  const { catalogue } = game;
  const counts = Array.from({ length: KIND_CODES }, () => ({ count: 0, bytes: 0 }));
  const { kinds, sizes } = catalogue.columns;
  for (let row = 0; row < catalogue.count; row++) {
    if (catalogue.wins[row] !== 1) continue;
    const kind = counts[kinds[row]!]!;
    kind.count++;
    kind.bytes += sizes[row]!;
  }
  return {
    folders: partsOf(catalogue.folders()),
    kinds: KINDS.map((kind) => ({ name: kind, target: kind, ...counts[codeOfKind(kind)]! })).filter(
      ({ count }) => count > 0,
    ),
  };
}

function partsOf({ inner }: Folder): MapPart[] {
  return [...inner]
    .sort((a, b) => b.bytes - a.bytes)
    .slice(0, MOST_PARTS)
    .map((folder) => ({
      name: folder.name,
      target: folder.path,
      bytes: folder.bytes,
      count: folder.count,
    }));
}
