export { unlikeliness } from './unlikeliness';
