import { Stall } from '../common/stall';
import type { TableName } from './shapes';
import type { Row, Story } from './story';

/** What steps do, by their code, with the tables that their numbers mean; `jump` is a place to go on at. */
const CODES: Readonly<Record<number, readonly [what: string, ...means: (TableName | 'jump')[]]>> = {
  0: ['ends'],
  1: ['comes', 'people', 'places'],
  2: ['reads', 'people', 'letters'],
  3: ['makes', 'promises'],
  4: ['keeps', 'promises'],
  5: ['asks', 'promises', 'jump'],
  6: ['gives', 'people', 'items'],
  7: ['weather', 'weathers'],
};

export interface Step {
  readonly at: number;
  readonly what: string;
  readonly numbers: readonly number[];
}

/** The steps of a scene, each number led to its row and each jump to a step. */
export function stepsOf(scene: Row, story: Story): ReadonlyMap<number, Step> {
  const bytes = scene.steps as Buffer;
  const stall = (at: number, why: string): Stall =>
    new Stall('scenes.leaf', `row ${scene.id}, steps at ${at}`, why);
  const steps = new Map<number, Step>();
  const jumps: (readonly [at: number, to: number])[] = [];
  for (let at = 0; at < bytes.length;) {
    const known = CODES[bytes[at]!];
    if (!known) throw stall(at, `there is no step ${bytes[at]}`);
    const [what, ...means] = known;
    const end = at + 1 + 2 * means.length;
    if (end > bytes.length) throw stall(at, 'the step is cut off');
    const numbers = means.map((_, i) => bytes.readUInt16LE(at + 1 + 2 * i));
    for (const [i, of] of means.entries()) {
      if (of === 'jump') jumps.push([at, numbers[i]!]);
      else if (!story.get(of)!.has(numbers[i]!)) throw stall(at, `${numbers[i]} is no row of ${of}`);
    }
    steps.set(at, { at, what, numbers });
    at = end;
  }
  for (const [at, to] of jumps)
    if (!steps.has(to)) throw stall(at, `it goes on at ${to}, where no step begins`);
  return steps;
}
