/** A short random id, unique for all practical purposes. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(10));
  return Array.from(bytes, (byte) => (byte % 36).toString(36)).join('');
}
