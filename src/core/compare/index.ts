export { alignBytes } from './align';
export { compareBytes, type Comparison, type Difference } from './differences';
