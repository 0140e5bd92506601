export { isIvf, readIvfHead } from './ivf';
export { readTracks, type ReadStretch } from './tracks';
export { filmTracks, isMarks, isPictures, isSound, type FilmTrack } from './film-tracks';
export { playingOf, type Playing } from './playing';
export { readSubtitles, subtitleFaults, toSrt, toVtt, type Subtitle, type SubtitleFault } from './subtitles';
