export type { FilmHead, Head, ModelHead, PictureHead, SoundHead, TextHead } from './head';
export { isIvf, readIvfHead } from './ivf';
export { readModelHead } from './model';
export { readTracks, type ReadStretch } from './tracks';
export { tellsOf } from './tells';
