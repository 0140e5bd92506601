export { isIvf, readIvfHead } from './ivf';
export { readTracks, type ReadStretch } from './tracks';
