export { readModelHead } from './model';
