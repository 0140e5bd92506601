export { assemble, EMPTY, I32, I64, leb, op, V128, WASM_PAGE, wide, type OneFunction } from './assemble';
