import { Op, Transaction } from 'sequelize';
import { ChangeRow, ModRow, models, StepRow } from '@/db';
import { UserError } from '@/platform/user-error';

/** A change as it was before and after a step; null where there was none. */
interface SlotState {
  readonly archivePath: string;
  readonly entryIndex: number;
  readonly before: object | null;
  readonly after: object | null;
}

type Slot = Pick<SlotState, 'archivePath' | 'entryIndex'>;

/** So many steps of a mod can be undone; older ones are forgotten. */
const MOST_STEPS = 200;

async function stateOf(modId: number, slot: Slot): Promise<object | null> {
  const row = await ChangeRow.findOne({ where: { modId, ...slot } });
  if (!row) return null;
  const kept: Record<string, unknown> = { ...(row.get({ plain: true }) as object) };
  delete kept.id;
  delete kept.createdAt;
  return kept;
}

/** Makes a change what it was; none where it was none. */
async function put(modId: number, slot: Slot, wanted: object | null): Promise<void> {
  const { archivePath, entryIndex } = slot;
  await ChangeRow.destroy({ where: { modId, archivePath, entryIndex } });
  if (wanted) await ChangeRow.create(wanted as never);
}

/** Waits until nobody else is at the changes of a mod, until the transaction ends: its user and its work folder take turns. */
const alone = (modId: number): Promise<unknown> =>
  ModRow.findByPk(modId, { attributes: ['id'], lock: Transaction.LOCK.UPDATE });

/** Does something to changes of a mod, so that it can be undone, in one transaction: what fails leaves all of them as they were. */
export function asStep<T>(
  modId: number,
  what: string,
  slots: readonly Slot[],
  work: () => Promise<T>,
): Promise<T> {
  return models().transaction(async () => {
    await alone(modId);
    const befores = await Promise.all(slots.map((slot) => stateOf(modId, slot)));
    const result = await work();
    const states = await Promise.all(
      slots.map(async ({ archivePath, entryIndex }, i): Promise<SlotState> => ({
        archivePath,
        entryIndex,
        before: befores[i]!,
        after: await stateOf(modId, { archivePath, entryIndex }),
      })),
    );
    await StepRow.destroy({ where: { modId, undone: true } });
    const step = await StepRow.create({ modId, what, states });
    const old = await StepRow.findOne({ where: { modId }, order: [['id', 'DESC']], offset: MOST_STEPS });
    if (old) await StepRow.destroy({ where: { modId, id: { [Op.lte]: Math.min(old.id, step.id - 1) } } });
    return result;
  });
}

export interface History {
  /** What would be undone or done again next; null where there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
}

const next = (modId: number, direction: 'undo' | 'redo'): Promise<StepRow | null> =>
  StepRow.findOne({
    where: { modId, undone: direction === 'redo' },
    order: [['id', direction === 'undo' ? 'DESC' : 'ASC']],
  });

export async function historyOf(modId: number): Promise<History> {
  models();
  const [undo, redo] = await Promise.all([next(modId, 'undo'), next(modId, 'redo')]);
  return { undo: undo?.what ?? null, redo: redo?.what ?? null };
}

/** Takes the last step back, or does the one again that was taken back last. */
export async function travel(modId: number, direction: 'undo' | 'redo'): Promise<string> {
  return models().transaction(async () => {
    await alone(modId);
    const step = await next(modId, direction);
    if (!step) throw new UserError(409, `There is nothing to ${direction}.`);
    for (const state of step.states as SlotState[])
      await put(modId, state, direction === 'undo' ? state.before : state.after);
    await step.update({ undone: direction === 'undo' });
    return step.what;
  });
}
