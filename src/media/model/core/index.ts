export { finestLevel, trianglesOf, verticesOf } from './form/form';
export type { Bone, Box, Clip, Form, Material, Morph, Part, PictureRole, Track } from './form/form';
export { fitForm } from './fit/fit-form';
export { readModelHead } from './open-head';
export {
  openEnding,
  readOpenForm,
  writeGltfFiles,
  writeOpenForm,
  type ReadEnding,
  type WriteEnding,
} from './open/open-form';
export type { GivenPicture, PictureFor } from './open/write-gltf';
export { packForm, unpackForm } from './view/pack';
export type { PackedBone, PackedClip, PackedForm, PackedPart, PackedTrack } from './view/pack';
export { openModel, type PartRoom, type WrappedModel } from './wrapped/wrapped-model';
