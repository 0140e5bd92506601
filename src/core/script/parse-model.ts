import type { Located } from './located';
import type { ModelFieldType, ModelStreamType, ModelType, Numbers } from './model-types';
import { oneOf, optional, type ScriptScope } from './scope';

/** Fields of the items of each sort of stream. */
const FIELDS = {
  vertices: [
    ...['place', 'normal', 'tangent', 'colour', 'joints', 'weights'],
    ...['coordinates', 'coordinates 2', 'coordinates 3', 'coordinates 4'],
  ],
  triangles: [],
  keys: ['time', 'value'],
  shape: ['vertex', 'place'],
} as const;
const STREAMS = ['vertices', 'triangles', 'keys', 'shape'] as const;
const PICTURES = ['colour', 'normal', 'grey', 'glow', 'mask'] as const;

const WORDS: Readonly<Record<(typeof STREAMS)[number], readonly string[]>> = {
  vertices: ['stream', 'of', 'count', 'stride', 'first', 'fields', 'bones'],
  triangles: ['stream', 'of', 'as', 'strip', 'ends'],
  keys: ['stream', 'clip', 'bone', 'moves', 'count', 'stride', 'first', 'fields'],
  shape: ['stream', 'of', 'name', 'relative', 'count', 'stride', 'first', 'fields'],
};

const numbers = (at: Located | undefined, scope: ScriptScope): Numbers => {
  if (!at) return [];
  return at.isList() ? at.items().map((item) => scope.expression(item)) : [scope.expression(at)];
};

/** What a script says of the streams of a model. */
export function readModelStream(at: Located | undefined, scope: ScriptScope): ModelStreamType | undefined {
  if (!at) return undefined;
  const stream = oneOf(at.need('stream'), STREAMS, 'vertices');
  at.entries([...WORDS[stream]]);
  const fields = at.get('fields');
  if (stream !== 'triangles') at.need('fields').entries([...FIELDS[stream]]);
  if (stream === 'vertices' && !fields?.get('place') && !at.get('of'))
    fields!.fail("'place', or 'of' for the mesh whose other stream has it", 'neither');
  if (stream === 'keys') for (const word of ['clip', 'bone', 'moves', 'stride']) at.need(word);
  if (stream === 'keys') fields!.need('value');
  if (stream === 'shape') fields!.need('place');
  if (stream === 'vertices' || stream === 'shape') at.need('stride');
  if (stream === 'triangles') at.need('as');
  return {
    ...{ stream, order: scope.order },
    of: optional(at.get('of'), scope),
    count: optional(at.get('count'), scope),
    stride: optional(at.get('stride'), scope),
    first: optional(at.get('first'), scope),
    fields: fields?.entries().map(([name, field]) => readField(name, field, scope)) ?? [],
    as: optional(at.get('as'), scope),
    strip: optional(at.get('strip'), scope),
    ends: optional(at.get('ends'), scope),
    bones: optional(at.get('bones'), scope),
    clip: optional(at.get('clip'), scope),
    bone: optional(at.get('bone'), scope),
    moves: optional(at.get('moves'), scope),
    name: optional(at.get('name'), scope),
    relative: oneOf(at.get('relative'), ['rest', 'model'], 'rest'),
  };
}

function readField(name: string, at: Located, scope: ScriptScope): ModelFieldType {
  at.entries(['at', 'as', ...(name === 'time' ? ['per second'] : ['times', 'plus', 'order'])]);
  const order = at.get('order')?.text();
  const letters = order && [...order].sort().join('');
  if (letters !== undefined && !/^(?:xy|xyz|wxyz|bgr|abgr|uv)$/.test(letters))
    at.need('order').fail("the letters of its numbers, as 'wxyz' or 'bgra'", `'${order}'`);
  return {
    ...{ name, order },
    at: scope.expression(at.need('at')),
    as: scope.expression(at.need('as')),
    times: numbers(at.get('times'), scope),
    plus: numbers(at.get('plus'), scope),
    perSecond: optional(at.get('per second'), scope),
  };
}

/** What a script says of its models. */
export function readModel(at: Located | undefined, scope: ScriptScope): ModelType | undefined {
  if (!at) return undefined;
  at.entries([
    ...['up', 'handed', 'unit', 'front', 'coordinates'],
    ...['bones', 'materials', 'parts', 'clips'],
  ]);
  return {
    up: oneOf(at.get('up'), ['x', 'y', 'z'], 'y'),
    handed: oneOf(at.get('handed'), ['right', 'left'], 'right'),
    unit: optional(at.get('unit'), scope),
    front: oneOf(at.get('front'), ['counter-clockwise', 'clockwise'], 'counter-clockwise'),
    coordinates: oneOf(at.get('coordinates'), ['top', 'bottom'], 'top'),
    bones: readBones(at.get('bones'), scope),
    materials: readMaterials(at.get('materials'), scope),
    parts: readParts(at.get('parts'), scope),
    clips: readClips(at.get('clips'), scope),
  };
}

function readBones(at: Located | undefined, scope: ScriptScope): ModelType['bones'] {
  if (!at) return undefined;
  at.entries(['each', 'name', 'parent', 'place', 'turn', 'size', 'matrix', 'relative', 'inverse']);
  const matrix = at.get('matrix');
  if (matrix && (at.get('place') ?? at.get('turn') ?? at.get('size')))
    matrix.fail("either 'matrix', or 'place', 'turn' and 'size'", 'both');
  return {
    each: scope.expression(at.need('each')),
    name: optional(at.get('name'), scope),
    parent: scope.expression(at.need('parent')),
    place: numbers(at.get('place'), scope),
    turn: numbers(at.get('turn'), scope),
    size: numbers(at.get('size'), scope),
    matrix: numbers(matrix, scope),
    relative: oneOf(at.get('relative'), ['parent', 'model'], 'parent'),
    inverse: numbers(at.get('inverse'), scope),
  };
}

function readMaterials(at: Located | undefined, scope: ScriptScope): ModelType['materials'] {
  if (!at) return undefined;
  at.entries(['each', 'name', 'colour', 'pictures', 'two-sided']);
  const pictures = at.get('pictures');
  return {
    each: scope.expression(at.need('each')),
    name: optional(at.get('name'), scope),
    colour: numbers(at.get('colour'), scope),
    pictures:
      pictures?.entries([...PICTURES]).map(([role, path]) => ({ role, path: scope.expression(path) })) ?? [],
    twoSided: optional(at.get('two-sided'), scope),
  };
}

function readParts(at: Located | undefined, scope: ScriptScope): ModelType['parts'] {
  if (!at) return undefined;
  at.entries(['each', 'name', 'of', 'material', 'level', 'first', 'count', 'base', 'low', 'high']);
  return {
    each: scope.expression(at.need('each')),
    name: optional(at.get('name'), scope),
    of: optional(at.get('of'), scope),
    material: optional(at.get('material'), scope),
    level: optional(at.get('level'), scope),
    first: optional(at.get('first'), scope),
    count: optional(at.get('count'), scope),
    base: optional(at.get('base'), scope),
    low: numbers(at.get('low'), scope),
    high: numbers(at.get('high'), scope),
  };
}

function readClips(at: Located | undefined, scope: ScriptScope): ModelType['clips'] {
  if (!at) return undefined;
  at.entries(['each', 'name', 'group', 'rate', 'loop', 'frames']);
  const frames = at.get('frames');
  frames?.entries(['first', 'count']);
  return {
    each: scope.expression(at.need('each')),
    name: optional(at.get('name'), scope),
    group: optional(at.get('group'), scope),
    rate: optional(at.get('rate'), scope),
    loop: optional(at.get('loop'), scope),
    frames: frames && {
      first: optional(frames.get('first'), scope),
      count: scope.expression(frames.need('count')),
    },
  };
}
