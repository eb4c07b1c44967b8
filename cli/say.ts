/** Control characters, C1 and DEL included, and what cannot be shown as text. */

const UNSHOWN = /[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]/gu;

const escaped = (char: string): string => {
  const code = char.charCodeAt(0);
  if (code >= 0xdc80 && code <= 0xdcff) return `\\x${(code - 0xdc00).toString(16)}`;
  return code < 0x100 ? `\\x${code.toString(16).padStart(2, '0')}` : `\\u${code.toString(16)}`;
};

/** A name that came from outside, so that a terminal shows it and does nothing it says. */
export const shown = (name: string): string => name.replace(UNSHOWN, escaped);

/** The same for text of several lines. */
const lines = (text: string): string =>
  text.replace(UNSHOWN, (char) => (char === '\n' ? char : escaped(char)));

/** What has become of standard output. */
const output = { closed: false, failed: false };

/** Nobody reads any more: `… | head -1`. What is still to be printed is of no use. */
export const nobodyReads = (): boolean => output.closed;

/** Whether something that was to be printed could not be. */
export const printingFailed = (): boolean => output.failed;

/** Watches what becomes of standard output. To be called once, first. */
export function watchOutput(): void {
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    output.closed = true;
    if (error.code === 'EPIPE') return;
    if (!output.failed) complain(`What was to be printed could not be written: ${error.message}.`);
    output.failed = true;
    process.exitCode = 1;
  });
  process.stderr.on('error', () => undefined);
}

function print(text: string): void {
  if (!output.closed) process.stdout.write(`${text}\n`);
}

/** Prints for people. */
export const say = (text: string): void => print(lines(text));

/** Says what went wrong, beside what is printed. */
export const complain = (text: string): void => void process.stderr.write(`${lines(text)}\n`);

/** Prints data. Control characters beyond ASCII are written as escapes too. */
export function sayJson(value: unknown): void {
  print(jsonText(value));
}

export const jsonText = (value: unknown): string =>
  JSON.stringify(value, null, 2).replace(
    /[\u007f-\u009f]/g,
    (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );

/** Prints lines of data as they are, but for control characters. */
export const sayCsv = (line: string): void => print(lines(line));
