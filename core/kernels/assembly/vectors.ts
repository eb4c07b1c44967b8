/** The larger of two; the built-in one minds what is not a number, and is slow. */
export function larger(a: f32, b: f32): f32 {
  return a > b ? a : b;
}

/** The larger of the lanes of a vector without a sign. */
export function largest(values: v128): f32 {
  const two = f32x4.pmax(values, v128.shuffle<f32>(values, values, 2, 3, 0, 1));
  return larger(f32x4.extract_lane(two, 0), f32x4.extract_lane(two, 1));
}
