export { findBlockRuns, type BlockRun, type RunLayout } from './block-runs';
export { findBlockPictures, likelyWidths, type Guess } from './guess-shape';
export { findSigned, type SignedFile } from './signed';
