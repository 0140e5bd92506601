export { CORNERS, middleOf, sizeOf, spotAt, type Grid } from './grid';
export { guessMaps, spelledMap, type MapSource } from './guess-map';
export { MAP_OF, parseMapWords, type MapWords, type Standing } from './map-words';
export {
  NO_TILE,
  placeOfField,
  readMap,
  UNKNOWN_TILE,
  type MapLayer,
  type MapThing,
  type Part,
  type PlaceMap,
  type RowAt,
} from './read-map';
