import type { Clip, Project } from '@/core/programme/model';
import { clipSound, type ClipSound } from './clipSound';
import { CLIP_SHAPE } from './path';

/** A clip's own sound, before its gain, as a key; it begins with the audio key. */
export function soundKey(sound: ClipSound): string {
  const [first, ...others] = CLIP_SHAPE.map((station) => ({ name: station.name, key: station.key(sound) }));
  const rest = others.filter(({ key }) => key.length > 0).map(({ name, key }) => `${name}=${key.join(',')}`);
  return [...first!.key, ...rest].join('/');
}

/** The keys that were worked out for a clip, with what else they depend on. */
const known = new WeakMap<Clip, { readonly of: readonly unknown[]; readonly key: string | null }>();

/** The key of a clip's own measurement; `null` when its source is gone. Worked out once per clip: lists ask for thousands. */
export function clipKey(project: Project, clip: Clip): string | null {
  const { sources, sampleRate, layoutId, monoLaw } = project;
  const last = known.get(clip);
  if (
    last?.of[0] === sources &&
    last.of[1] === sampleRate &&
    last.of[2] === layoutId &&
    last.of[3] === monoLaw
  )
    return last.key;
  const sound = clipSound(project, clip);
  const key = sound && soundKey(sound);
  known.set(clip, { of: [sources, sampleRate, layoutId, monoLaw], key });
  return key;
}
