import { readdirSync } from 'node:fs';

/** Paths of all files in a folder and those within it. */
export function* walk(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = `${folder}/${entry.name}`;
    if (entry.isDirectory()) yield* walk(path);
    else yield path;
  }
}
