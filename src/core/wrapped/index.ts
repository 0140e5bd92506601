export { carriedNumbers, headOf, putNumber } from './carried-numbers';
export { emitted } from './emitted';
