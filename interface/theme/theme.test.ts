import { getContrastRatio } from '@mui/material/styles';
import { describe, expect, it } from 'vitest';
import { theme } from './theme';

/** What is written on what in canvases, which no automatic look over a page sees (WCAG 2.2, 1.4.3). */
const TEXTS = [
  ['text.primary', 'sheet.band'],
  ['background.paper', 'text.primary'],
  ['text.primary', 'background.paper'],
  ['text.primary', 'sheet.lane'],
  ['text.secondary', 'sheet.lane'],
  ['text.secondary', 'background.paper'],
] as const;
/** What is told by a shape or a line there (1.4.11). */
const SHAPES = [
  ['level.under', 'sheet.lane'],
  ['level.within', 'sheet.lane'],
  ['level.over', 'sheet.lane'],
  ['level.under', 'background.paper'],
  ['level.within', 'background.paper'],
  ['level.over', 'background.paper'],
  ['sheet.horizon', 'sheet.lane'],
] as const;

const schemes = (
  theme as unknown as {
    readonly colorSchemes: Readonly<Record<'light' | 'dark', { readonly palette: object }>>;
  }
).colorSchemes;

describe.each(['light', 'dark'] as const)('the %s theme', (scheme) => {
  const { palette } = schemes[scheme];
  const colour = (path: string): string =>
    path.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], palette) as string;

  it.each(TEXTS)('has %s readable on %s', (front, back) => {
    expect(getContrastRatio(colour(front), colour(back))).toBeGreaterThanOrEqual(4.5);
  });

  it.each(SHAPES)('has %s seen on %s', (front, back) => {
    expect(getContrastRatio(colour(front), colour(back))).toBeGreaterThanOrEqual(3);
  });
});
