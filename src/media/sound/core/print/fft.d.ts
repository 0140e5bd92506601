/** What is used of the package, which has no types of its own. */
declare module 'fft.js' {
  export default class FFT {
    /** `size` is a power of two. */
    constructor(size: number);
    createComplexArray(): number[];
    /** The first half of the transform of real numbers, real and imaginary parts in turn. */
    realTransform(out: number[], data: ArrayLike<number>): void;
  }
}
