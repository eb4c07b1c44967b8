/** A half-open range of sub-blocks. */
export interface SubBlockRange {
  readonly from: number;
  readonly to: number;
}

/** Adds a range to a sorted list of ranges that do not touch. */
export function addRange(ranges: readonly SubBlockRange[], { from, to }: SubBlockRange): SubBlockRange[] {
  if (from >= to) return [...ranges];
  const before = ranges.filter((range) => range.to < from);
  const after = ranges.filter((range) => range.from > to);
  const touching = ranges.slice(before.length, ranges.length - after.length);
  return [
    ...before,
    {
      from: Math.min(from, ...touching.map((range) => range.from)),
      to: Math.max(to, ...touching.map((range) => range.to)),
    },
    ...after,
  ];
}

/** Takes a range out of a sorted list of ranges. */
export function removeRange(ranges: readonly SubBlockRange[], { from, to }: SubBlockRange): SubBlockRange[] {
  return ranges.flatMap((range) =>
    [
      { from: range.from, to: Math.min(range.to, from) },
      { from: Math.max(range.from, to), to: range.to },
    ].filter((part) => part.from < part.to),
  );
}
