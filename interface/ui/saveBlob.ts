/** Offers a file to be saved on the user's machine. */
export function saveBlob(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser needs the address until it has begun to write.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
