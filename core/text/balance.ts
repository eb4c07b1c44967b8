import { readNumber } from './typedNumber';

/** “centre”, “L30”. @param balance −1 (left only) to 1 (right only) */
export function balanceText(balance: number): string {
  const percent = Math.round(Math.abs(balance) * 100);
  return percent === 0 ? 'centre' : `${balance < 0 ? 'L' : 'R'}${percent}`;
}

/** What is accepted as a balance, as a sentence. */
const BALANCE_HINT = 'Balance is C for the centre, or L or R with a number from 1 to 100, such as L30.';

/** Reads what {@link balanceText} writes, and “C”, “L 30”, “left 30”. @returns −1 to 1, or why it is none */
export function readBalance(text: string): number | { readonly error: string } {
  const written = text.trim().toLowerCase();
  if (/^(c|centre|center)$/.test(written)) return 0;
  const [, side, percent] = /^(left|l|right|r)\s*(.*)$/.exec(written) ?? [];
  if (!side) return { error: BALANCE_HINT };
  const read = percent ? readNumber(percent, BALANCE_HINT, [0, 100, '%']) : 100;
  if (typeof read !== 'number') return read;
  return ((side.startsWith('l') ? -1 : 1) * read) / 100;
}
