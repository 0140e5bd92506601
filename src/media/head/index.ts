export type { FilmHead, Head, ModelHead, PictureHead, SoundHead, TextHead } from '@/media/head/head';
export { isIvf, readIvfHead } from '@/media/head/ivf';
export { readModelHead } from '@/media/head/model';
export { readTracks, type ReadStretch } from '@/media/head/tracks';
export { tellsOf } from '@/media/head/tells';
