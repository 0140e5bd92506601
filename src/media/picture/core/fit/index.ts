export { fitPicture, type GivenPicture, type PictureTools } from './fit-picture';
