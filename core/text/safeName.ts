/** Names that some file systems keep for devices. */
const KEPT = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** A name that every file system takes; at most 180 letters. */
export function safeName(text: string): string {
  const name = text
    .replace(/[\\/:*?"<>|\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 180)
    // A point or space at its end is lost on some.
    .replace(/^\.+|[. ]+$/g, '');
  if (name === '') return 'Untitled';
  return KEPT.test(name) ? `${name}_` : name;
}
