/** Modified Bessel function of the first kind, order 0, by its power series: what a Kaiser window is made of. */
export function besselI0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
