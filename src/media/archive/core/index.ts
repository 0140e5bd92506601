export { tellsOf } from './tells';
