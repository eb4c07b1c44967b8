/**
 * Triangular dither: the sum of two even noises of one step each, before rounding. What is fainter than a step then stays in the
 * sound, as noise that does not depend on it. The same noise every time, so that a file can be made again to the bit.
 * Source: S. P. Lipshitz, R. A. Wannamaker, J. Vanderkooy, Quantization and Dither, JAES 40 (1992), section 4.
 */
export class Dither {
  private state = 0x2545f491;

  /** An even number from −½ to ½ (xorshift; Marsaglia 2003). */
  private even(): number {
    let x = this.state;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.state = x;
    return x / 2 ** 32;
  }

  /** Between −1 and 1 step. */
  next(): number {
    return this.even() + this.even();
  }
}
