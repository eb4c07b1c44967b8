const two = (n: number): string => String(n).padStart(2, '0');

/** “2026-01-31”, local. */
export const dateText = (date: Date): string =>
  `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;

/** “2026-01-31 21:04:00”, local. */
export const timeText = (date: Date): string =>
  `${dateText(date)} ${two(date.getHours())}:${two(date.getMinutes())}:${two(date.getSeconds())}`;
