export { checkIma, decodeIma, encodeIma, imaSamplesIn, type ImaLayout } from './ima';
export { checkMs, decodeMs, encodeMs, MS_COEFFICIENTS, msSamplesIn, type MsLayout } from './ms';
