import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Source } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { measurementStore } from './stores';

/** Raised when what is measured changes, so that old measurements are made anew. */
const VERSION = 7;

/** What a source's measurement depends on, as a key; it begins with the audio key. */
export const sourceKey = ({ audioKey, layout }: Pick<Source, 'audioKey' | 'layout'>): string =>
  `${audioKey}/source/${layout.id}`;

interface Versioned<T> {
  readonly version: number;
  readonly value: T;
}

async function get<T>(key: string): Promise<T | null> {
  const stored = await measurementStore.getItem<Versioned<T>>(key);
  return stored?.version === VERSION ? stored.value : null;
}

const put = async <T>(key: string, value: T): Promise<void> => {
  await measurementStore.setItem<Versioned<T>>(key, { version: VERSION, value });
};

/** @param key see {@link sourceKey} */
export const getSourceMeasurement = (key: string): Promise<SoundMeasurement | null> => get(key);
export const putSourceMeasurement = (key: string, value: SoundMeasurement): Promise<void> => put(key, value);

/** @param key begins with the audio key, see `clipKey` */
export const getClipMeasurement = (key: string): Promise<ClipMeasurement | null> => get(key);
export const putClipMeasurement = (key: string, value: ClipMeasurement): Promise<void> => put(key, value);

const voiceKey = (audioKey: string): string => `${audioKey}/voice`;

/** How surely somebody speaks in a sound, frame by frame: see `VoiceDetector`. */
export const getVoice = (audioKey: string): Promise<Uint8Array | null> => get(voiceKey(audioKey));
export const putVoice = (audioKey: string, value: Uint8Array): Promise<void> =>
  put(voiceKey(audioKey), value);

/** Forgets measurements of sound that none of the given keys names. */
export async function removeMeasurementsExcept(wanted: ReadonlySet<string>): Promise<void> {
  for (const key of await measurementStore.keys()) {
    if (!wanted.has(key.split('/')[0]!)) await measurementStore.removeItem(key);
  }
}
