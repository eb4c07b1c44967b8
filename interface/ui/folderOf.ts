/** The folder a file was picked or dropped with, as its path within what was picked; empty when it came by itself. */
export function folderOf(file: File): string {
  const dropped = 'relativePath' in file && typeof file.relativePath === 'string' ? file.relativePath : '';
  const path = file.webkitRelativePath || dropped;
  return path
    .split('/')
    .filter((part) => part !== '' && part !== '.')
    .slice(0, -1)
    .join('/');
}
