import type { ByteSource } from '@/core/audio/byteSource';
import { readSoundFile, type SoundHandle } from '@/storage/soundFiles';
import { cachedBlobSource } from './blobSource';

/** Files a worker has open at most. */
const MOST_OPEN = 48;

/** Stored files that this worker has open, those not used for longest closed first. */
class OpenFiles {
  private readonly handles = new Map<string, Promise<SoundHandle>>();

  /** The open file of a sound, to be used before anything else is awaited: it may be closed then. */
  get(audioKey: string): Promise<SoundHandle> {
    const known = this.handles.get(audioKey);
    const handle = known ?? readSoundFile(audioKey);
    this.handles.delete(audioKey);
    this.handles.set(audioKey, handle);
    if (!known) {
      handle.catch(() => this.handles.delete(audioKey));
      if (this.handles.size > MOST_OPEN) this.close(this.handles.keys().next().value!);
    }
    return handle;
  }

  private close(audioKey: string): void {
    const handle = this.handles.get(audioKey);
    this.handles.delete(audioKey);
    void handle?.then((open) => open.close()).catch(() => undefined);
  }
}

const files = new OpenFiles();

/** A stored file carries its key as its name: see `soundFiles`. */
const isStored = (audioKey: string, blob: Blob): boolean => blob instanceof File && blob.name === audioKey;

/**
 * The bytes of a sound. From a file in the site's own folder they are read at once, many times as fast as through a Blob; where that
 * cannot be opened, and for all other sound, through the Blob.
 */
export function soundSource(audioKey: string, blob: Blob): ByteSource {
  const slow = cachedBlobSource(audioKey, blob);
  if (!isStored(audioKey, blob)) return slow;
  const { size } = blob;
  let byHandle = true;
  return {
    size,
    async read(offset, length, into) {
      if (!byHandle) return slow.read(offset, length);
      let handle: SoundHandle;
      try {
        handle = await files.get(audioKey);
      } catch {
        byHandle = false;
        return slow.read(offset, length);
      }
      const count = Math.max(0, Math.min(length, size - offset));
      const room = into && into.length >= count ? into.subarray(0, count) : new Uint8Array(count);
      return room.subarray(0, handle.read(room, { at: offset }));
    },
  };
}
