export { compareBytes, type Comparison, type Difference } from './differences';
