export { findRegions, type FindOptions } from './find-regions';
export { readRegions } from './read-regions';
export { checkRegions, namedApart, type Region } from './regions';
export { cutRegion, placeRegion } from './sprites';
