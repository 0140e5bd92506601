import type { Note } from '../common/log';
import { Stall } from '../common/stall';
import { stepsOf, type Step } from './steps';
import type { TableName } from './shapes';
import type { Row, Story } from './story';

/** How a day at the moor went: the last scene that was played, and what was said in it. */
export interface Walked {
  readonly scene: Row;
  readonly place: Row;
  readonly said: readonly string[];
  /** Whom one met on the way, in that order. */
  readonly people: readonly Row[];
  readonly sky: Row;
  readonly kept: readonly Row[];
}

/** What is remembered from scene to scene. */
interface Day {
  readonly made: Set<number>;
  readonly kept: Set<number>;
  readonly people: Map<number, Row>;
}

/** A scene in which more steps are taken goes in a circle. */
const MOST_STEPS = 1000;

const nameOf = (row: Row): string => String(row.name ?? row.what ?? row.text ?? row.id);

/** Plays scene after scene, walking to where each is, until a promise that was made is kept. */
export function walk(story: Story, note: Note): Walked {
  const row = (table: TableName, id: number): Row => story.get(table)!.get(id)!;
  const scenes = story.get('scenes')!;
  const played = new Set<number>();
  const day: Day = { made: new Set(), kept: new Set(), people: new Map() };
  let scene: Row | undefined = scenes.values().next().value;
  if (!scene) throw new Stall('scenes.leaf', 'table', 'there is no scene to begin with');
  let at = row('places', scene.place as number);
  for (;;) {
    at = go(story, at, row('places', scene.place as number), note);
    const seen = playScene(scene, story, day, note);
    played.add(scene.id);
    const held = [...day.kept].filter((one) => day.made.has(one));
    const next: Row | undefined = held.length > 0 ? undefined : following(scene, scenes, played);
    if (!next) {
      if (held.length === 0) note('note', 'promises', 'the story ends, and no promise that was made is kept');
      const kept = held.map((id) => row('promises', id));
      return { scene, place: at, ...seen, people: [...day.people.values()], kept };
    }
    scene = next;
  }
}

/** The scene that follows; where it was played already the next day begins with the first that was not. */
function following(
  scene: Row,
  scenes: ReadonlyMap<number, Row>,
  played: ReadonlySet<number>,
): Row | undefined {
  const then = scenes.get(scene.then as number);
  return then && !played.has(then.id) ? then : [...scenes.values()].find(({ id }) => !played.has(id));
}

/** From place to place along what is near. */
function go(story: Story, from: Row, to: Row, note: Note): Row {
  const cameFrom = new Map<number, number>([[from.id, from.id]]);
  const places = story.get('places')!;
  for (const id of cameFrom.keys())
    for (const near of places.get(id)!.near as number[]) if (!cameFrom.has(near)) cameFrom.set(near, id);
  if (!cameFrom.has(to.id))
    throw new Stall(
      'places.leaf',
      `row ${from.id}, near`,
      `no way leads from ${nameOf(from)} to ${nameOf(to)}`,
    );
  const way = [to.id];
  while (way[0] !== from.id) way.unshift(cameFrom.get(way[0]!)!);
  if (way.length > 1)
    note('note', nameOf(to), `walked ${way.map((id) => nameOf(places.get(id)!)).join(', ')}`);
  return to;
}

function playScene(
  scene: Row,
  story: Story,
  { made, kept, people }: Day,
  note: Note,
): Pick<Walked, 'said' | 'sky'> {
  const row = (table: TableName, id: number): Row => story.get(table)!.get(id)!;
  const steps = stepsOf(scene, story);
  const said: string[] = [];
  let sky = row('weathers', scene.weather as number);
  const does: Readonly<Record<string, (...numbers: number[]) => string>> = {
    comes: (who, to) => {
      people.set(who!, row('people', who!));
      return `${nameOf(row('people', who!))} comes to ${nameOf(row('places', to!))}`;
    },
    reads: (who, id) => {
      const letter = row('letters', id!);
      if (letter.promise !== 0) made.add(letter.promise as number);
      return `${nameOf(row('people', who!))} reads: ${nameOf(letter)}`;
    },
    makes: (promise) => {
      made.add(promise!);
      return `a promise is made: ${nameOf(row('promises', promise!))}`;
    },
    keeps: (promise) => {
      kept.add(promise!);
      return `a promise is kept: ${nameOf(row('promises', promise!))}`;
    },
    gives: (who, thing) => `${nameOf(row('people', who!))} is given ${nameOf(row('items', thing!))}`,
    weather: (id) => {
      sky = row('weathers', id!);
      return `the sky turns to ${nameOf(sky)}`;
    },
  };
  let step: Step | undefined = steps.get(0);
  for (let taken = 0; step && step.what !== 'ends'; taken++) {
    if (taken > MOST_STEPS)
      throw new Stall('scenes.leaf', `row ${scene.id}, steps`, `they go in a circle at ${step.at}`);
    const next: number = step.at + 1 + 2 * step.numbers.length;
    const [first, other] = step.numbers;
    if (step.what === 'asks') {
      step = kept.has(first!) ? steps.get(next) : steps.get(other!);
      continue;
    }
    const line = does[step.what]!(...step.numbers);
    said.push(line);
    note('note', `scene ${scene.id} at ${step.at}`, line, 'tables/scenes.leaf');
    step = steps.get(next);
  }
  return { said, sky };
}
