/** A 32-bit word turned to the left by 1 to 31 bits. */
export const rotateLeft = (value: number, by: number): number => (value << by) | (value >>> (32 - by));
