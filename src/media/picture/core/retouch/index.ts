export { Edit, edited } from './edits';
export { stamped } from './stamp';
