import { findingsOf, type Words } from '@/core/fit';

/** How much of a part there is. */
export interface PartFacts {
  readonly vertices: number;
  readonly triangles: number;
}

const count = (n: number, one: string): string => `${n.toLocaleString('en')} ${n === 1 ? one : `${one}s`}`;
const listed = (names: readonly string[]): string =>
  names.length > 4 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ');
const said = ({ vertices, triangles }: PartFacts): string =>
  `${vertices.toLocaleString('en')} vertices, ${triangles.toLocaleString('en')} triangles`;
const metres = (n: number): string =>
  n < 0.01 ? `${(n * 1000).toPrecision(2)} mm` : `${n.toPrecision(2)} m`;

export const modelWording = {
  part: ({ name, is, was }: { name: string; is: PartFacts; was: PartFacts }): Words => ({
    what: `${name}: ${said(is)}, was ${said(was)}`,
    why: 'Its streams are written anew with their counts, boxes and checks',
  }),
  unchanged: ({ names }: { names: readonly string[] }): Words => ({
    what: `${count(names.length, 'part')} as before: ${listed(names)}`,
    why: 'Their bytes stay as they are',
  }),
  kept: ({ names }: { names: readonly string[] }): Words => ({
    what: `not given, so the old ones stay: ${listed(names)}`,
    why: 'Parts and levels of detail are told apart by their names; those that are missing would leave holes',
  }),
  'old-levels': ({ names }: { names: readonly string[] }): Words => ({
    what: `coarser levels are not given, so the old shape is seen from afar: ${listed(names)}`,
    why: 'The game takes them instead of the finest level where it is small on the screen',
    mend: 'Make them from what was given',
  }),
  'made-level': ({ name, triangles, error }: { name: string; triangles: number; error: number }): Words => ({
    what: `${name}: made of the finest level, ${count(triangles, 'triangle')}, its surface about ${metres(error)} off`,
    why: 'As many triangles for each of the finest level as the old one had',
  }),
  left: ({ names }: { names: readonly string[] }): Words => ({
    what: `no part of the slot is called so: ${listed(names)}`,
    why: 'The slot has a row for each of its parts, and no more; name it as the part that it comes in place of, or join it to that one',
  }),
  'shapes-kept': ({ name, shapes }: { name: string; shapes: readonly string[] }): Words => ({
    what: `${name}: shapes that were not given stay as they were: ${listed(shapes)}`,
    why: 'It has as many vertices as before, and each of them is moved as before; where vertices stand in another order, look at each shape',
  }),
  'shapes-still': ({ name, shapes }: { name: string; shapes: readonly string[] }): Words => ({
    what: `${name}: shapes that were not given, in which nothing moves now: ${listed(shapes)}`,
    why: 'It has other vertices than before; give it with shapes (morph targets) of these names, as glTF keeps them',
  }),
  'shapes-left': ({ name, shapes }: { name: string; shapes: readonly string[] }): Words => ({
    what: `${name}: shapes that the slot has not are left out: ${listed(shapes)}`,
    why: 'The file has a stream for each of its shapes, and no more',
  }),
  'no-parts': ({ name }: { name: string }): Words => ({
    what: `${name} has no triangles`,
    why: 'Lines and points are not drawn by the game',
  }),
  'unknown-bones': ({ name, bones }: { name: string; bones: readonly string[] }): Words => ({
    what: `${name}: bones that the slot has not: ${listed(bones)}`,
    why: 'Vertices that they move would stand still or fly off; give the weights to bones of the slot',
  }),
  'no-weights': ({ name }: { name: string }): Words => ({
    what: `${name}: nothing says which bones move it`,
    why: 'The slot moves with its bones; as it is given, all of it hangs on the first one',
  }),
  'fewer-bones': ({ name, is, most }: { name: string; is: number; most: number }): Words => ({
    what: `${name}: up to ${count(is, 'bone')} a vertex, the slot keeps ${most}`,
    why: 'The lightest ones are left out and the rest made whole again',
  }),
  'no-coordinates': ({ name }: { name: string }): Words => ({
    what: `${name}: no texture coordinates`,
    why: 'Its pictures would be one colour all over; unwrap it before it is saved',
  }),
  'made-normals': ({ name }: { name: string }): Words => ({
    what: `${name}: normals made from its triangles`,
    why: 'None are given; edges that were sharp are round now',
  }),
  'made-tangents': ({ name }: { name: string }): Words => ({
    what: `${name}: tangents made from its texture coordinates`,
    why: 'None are given, and the slot keeps them for its normal map',
  }),
  scale: ({ factor }: { factor: number }): Words => ({
    what: `${factor < 1 ? `${(1 / factor).toPrecision(3)} times smaller` : `${factor.toPrecision(3)} times larger`} than the original`,
    why: 'Most likely saved in another unit',
    mend: `Make it ${factor < 1 ? 'larger' : 'smaller'} by that`,
  }),
  lying: ({ up }: { up: string }): Words => ({
    what: `lies on its side: ${up} is up in it`,
    why: 'Its box is that of the original with two axes changed; most likely saved with other axes',
    mend: 'Stand it up',
  }),
  'stood-up': (): Words => ({ what: 'stood up', why: 'It was saved with z up' }),
  rescaled: ({ factor }: { factor: number }): Words => ({
    what: `made ${factor.toPrecision(3)} times as large`,
    why: 'As large as the original',
  }),
  clip: ({ name, is, was }: { name: string; is: number; was: number }): Words => ({
    what: `clip ${name}: ${is.toFixed(2)} s, was ${was.toFixed(2)} s`,
    why: 'Its keys are written anew; what the game takes its length from elsewhere does not follow',
  }),
  'clips-unchanged': ({ names }: { names: readonly string[] }): Words => ({
    what: `${count(names.length, 'clip')} as before: ${listed(names)}`,
    why: 'Their keys stay as they are',
  }),
  'clips-left': ({ names }: { names: readonly string[] }): Words => ({
    what: `clips that the slot has not: ${listed(names)}`,
    why: 'The slot has a row for each of its clips, and no more; they are left out',
  }),
  'tracks-left': ({ name, bones }: { name: string; bones: readonly string[] }): Words => ({
    what: `clip ${name}: moves bones that the slot keeps no keys for: ${listed(bones)}`,
    why: 'They stand still in the game; give the movement to bones that it moves',
  }),
  'other-bones': ({ names }: { names: readonly string[] }): Words => ({
    what: `bones of the slot that it has not: ${listed(names)}`,
    why: 'Clips that move them move nothing, or the game stalls',
  }),
  refused: ({ why }: { why: string }): Words => ({
    what: 'The streams of the slot cannot hold it',
    why,
  }),
  read: ({ error, step }: { error: number; step: number }): Words => ({
    what: `read again: places at most ${metres(error)} off`,
    why: step > 0 ? `The slot keeps them in steps of ${metres(step)}` : 'The slot keeps them as floats',
  }),
  'same-file': ({ format }: { format: string }): Words => ({
    what: `${format}, taken as given`,
    why: 'As the slot has it',
  }),
  saved: ({ format }: { format: string }): Words => ({
    what: `saved as ${format}`,
    why: 'As the slot has it',
  }),
  'only-read': ({ name, format }: { name: string; format: string }): Words => ({
    what: `${name} given, the slot is ${format}`,
    why: `Files of this kind are only read here; give a ${format} file`,
  }),
};

export const foundInModel = findingsOf<typeof modelWording>('model');
