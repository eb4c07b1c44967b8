import { removeOrphans } from '@/storage/projects';

/** Reads every project: apart from the page, which would stand still meanwhile. */
void removeOrphans().then(
  () => postMessage('done'),
  () => postMessage('failed'),
);
