import type { Standing as Judged } from '@/core/check/judge';

/** Where something stands to the horizon. */
export type Standing = Judged | 'unknown';

export const STANDING_COLOUR: Readonly<Record<Standing, string>> = {
  under: 'var(--mui-palette-level-under)',
  within: 'var(--mui-palette-level-within)',
  over: 'var(--mui-palette-level-over)',
  unknown: 'var(--mui-palette-text-secondary)',
};

/** The shape that says under, within or over without any colour: pointing down, a disc, pointing up. */
export function markPath(standing: Standing, x: number, y: number, size: number): string {
  const r = size / 2;
  if (standing === 'over') return `M${x} ${y - r}L${x + r} ${y + r * 0.8}H${x - r}Z`;
  if (standing === 'under') return `M${x} ${y + r}L${x + r} ${y - r * 0.8}H${x - r}Z`;
  return `M${x - r} ${y}a${r} ${r} 0 1 0 ${size} 0a${r} ${r} 0 1 0 ${-size} 0Z`;
}

export function LevelMark({ standing, size = 9 }: { standing: Standing; size?: number }) {
  return (
    <svg width={size + 2} height={size + 2} aria-hidden style={{ flex: 'none' }}>
      <path
        d={markPath(standing, size / 2 + 1, size / 2 + 1, size)}
        fill={standing === 'unknown' ? 'none' : STANDING_COLOUR[standing]}
        stroke={STANDING_COLOUR[standing]}
      />
    </svg>
  );
}
