import { endingOf, KINDS, type Kind, type SaidKinds } from '@/core/kinds';
import { KindChoiceRow, models } from '@/db';

/** What the user said of kinds in a game: of one path, or of all that bear an ending. */
export interface KindChoice {
  readonly scope: 'path' | 'ending';
  readonly name: string;
  readonly kind: Kind;
}

const isKind = (kind: string): kind is Kind => (KINDS as readonly string[]).includes(kind);

export async function kindChoices(gameId: number): Promise<KindChoice[]> {
  models();
  const rows = await KindChoiceRow.findAll({
    where: { gameId },
    order: [
      ['scope', 'ASC'],
      ['name', 'ASC'],
    ],
  });
  return rows.flatMap(({ scope, name, kind }) => (isKind(kind) ? [{ scope, name, kind }] : []));
}

/** The same, as those who tell kinds ask it. */
export function saidKinds(choices: readonly KindChoice[]): SaidKinds {
  const of = (wanted: KindChoice['scope']): Map<string, Kind> =>
    new Map(choices.flatMap(({ scope, name, kind }) => (scope === wanted ? [[name, kind] as const] : [])));
  return { paths: of('path'), endings: of('ending') };
}

/**
 * Says what a path is, or all that bear its ending; null takes back what was said. Gives what was said of it before, for undoing.
 */
export async function sayKind(
  gameId: number,
  { scope, path, kind }: { scope: KindChoice['scope']; path: string; kind: Kind | null },
): Promise<Kind | null> {
  const name = scope === 'path' ? path : endingOf(path);
  return models().transaction(async (transaction) => {
    const where = { gameId, scope, name };
    const old = await KindChoiceRow.findOne({ where, transaction, lock: true });
    const before = old && isKind(old.kind) ? old.kind : null;
    if (kind === null) await old?.destroy({ transaction });
    else
      await KindChoiceRow.upsert(
        { ...where, kind },
        { conflictFields: ['game_id', 'scope', 'name'] as never, transaction },
      );
    return before;
  });
}
