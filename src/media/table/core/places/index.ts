export {
  CORNERS,
  GRIDS,
  HEX_RADIUS,
  middleOf,
  sizeOf,
  spotAt,
  type Grid,
  type Point,
  type Spot,
} from './grid';
export { guessMaps, spelledMap, type MapSource } from './guess-map';
export { MAP_OF, parseMapWords, type MapWords, type Standing } from './map-words';
export {
  MOST_SPOTS,
  NO_TILE,
  readMap,
  UNKNOWN_TILE,
  type MapLayer,
  type MapThing,
  type Part,
  type PlaceMap,
  type RowAt,
} from './read-map';
