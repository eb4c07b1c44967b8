import { movePiecesToFiles } from '@/storage/audio';
import { removeOrphans } from '@/storage/projects';

/** Reads every project, and moves sound: apart from the page, which would stand still meanwhile. */
async function tidy(): Promise<void> {
  await removeOrphans();
  // Where this browser has no files, or no room for two of a sound, it stays where it is.
  await movePiecesToFiles().catch(() => 0);
}

void tidy().then(
  () => postMessage('done'),
  () => postMessage('failed'),
);
