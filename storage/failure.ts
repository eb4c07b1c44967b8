/** Why something could not be kept, and what to do. */
export class StorageError extends Error {
  override readonly name = 'StorageError';

  constructor(
    readonly code: 'full' | 'unavailable',
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

/** Turns whatever the browser throws into something to be told. */
export function storageError(error: unknown): StorageError {
  if (error instanceof StorageError) return error;
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'QuotaExceededError') {
    return new StorageError(
      'full',
      'The browser’s storage is full.',
      'Delete projects you no longer need from the shelf, or free disk space, then try again.',
    );
  }
  return new StorageError(
    'unavailable',
    `The browser’s storage cannot be used${error instanceof Error ? `: ${error.message}` : ''}.`,
    'Check that the window is not private and that site data is allowed, then reload.',
  );
}
