const MINUS = '−';

/** A figure for people: fixed decimals, a true minus sign, “—” where there is no value. */
export function figure(value: number | null | undefined, decimals = 1): string {
  if (value === null || value === undefined) return '—';
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? MINUS + text : text;
}

/** A figure with its unit. */
export function withUnit(value: number | null | undefined, unit: string, decimals = 1): string {
  return value === null || value === undefined ? '—' : `${figure(value, decimals)} ${unit}`;
}

/** A change: always signed. */
export function signed(value: number | null | undefined, decimals = 1): string {
  if (value === null || value === undefined) return '—';
  const text = figure(value, decimals);
  return text.startsWith(MINUS) ? text : `${Number(text) === 0 ? '±' : '+'}${text}`;
}

/** A length or place in time: “3:07.4”, “1:02:03.4”. */
export function clock(seconds: number, decimals = 1): string {
  const scale = 10 ** decimals;
  const units = Math.round(Math.max(0, seconds) * scale);
  const whole = Math.floor(units / scale);
  const part = decimals > 0 ? `.${String(units % scale).padStart(decimals, '0')}` : '';
  const pad = (n: number): string => String(n).padStart(2, '0');
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor((whole % 3600) / 60);
  return `${hours > 0 ? `${hours}:${pad(minutes)}` : minutes}:${pad(whole % 60)}${part}`;
}

/** A size in bytes for people. */
export function byteSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const units = ['kB', 'MB', 'GB', 'TB'];
  let value = bytes / 1000;
  let unit = 0;
  while (value >= 999.5 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${units[unit]}`;
}

/** More digits than this tell nothing any more. */
const MOST_DIGITS = 5;

/**
 * As many digits as it takes that a size reads as past a limit, or as within it, as it is.
 * @param size not negative
 */
export function tellingDigits(size: number, limit: number, past: boolean): number {
  for (let digits = 1; digits < MOST_DIGITS; digits++)
    if (Number(size.toFixed(digits)) > limit === past) return digits;
  return MOST_DIGITS;
}
