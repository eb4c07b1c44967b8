import type { Clip, MonoLaw, Project } from '@/core/programme/model';

/** A stretch of sound as it is laid into a programme: all that its own measurement depends on, its sound aside. */
export interface ClipStretch extends Pick<
  Clip,
  'sourceStart' | 'length' | 'fadeIn' | 'fadeOut' | 'channelDb' | 'balance' | 'curve'
> {
  /** How the source's channels are said to stand. */
  readonly sourceLayoutId: string;
  readonly sampleRate: number;
  readonly layoutId: string;
  readonly monoLaw: MonoLaw;
}

/** That as a key; it begins with the audio key. */
export function stretchKey(audioKey: string, stretch: ClipStretch): string {
  const { sourceLayoutId, sourceStart, length, sampleRate, layoutId, fadeIn, fadeOut } = stretch;
  const { channelDb, balance, monoLaw, curve } = stretch;
  const plain = [audioKey, sourceLayoutId, sourceStart, length, sampleRate, layoutId, fadeIn, fadeOut];
  // What most clips do not have is left out.
  const rest = channelDb.length > 0 || balance !== 0 ? [channelDb.join(','), balance] : [];
  const points = curve.length > 0 ? [curve.map(({ at, db }) => `${at}:${db}`).join(',')] : [];
  return [...plain, ...rest, ...(monoLaw === 'full' ? ['full'] : []), ...points].join('/');
}

/** What of its source a clip is, and how it is laid into the programme; `null` when the source is gone. */
export function clipStretch(
  project: Project,
  clip: Clip,
): (ClipStretch & { readonly audioKey: string }) | null {
  const source = project.sources.find(({ id }) => id === clip.sourceId);
  if (!source) return null;
  const { sourceStart, length, fadeIn, fadeOut, channelDb, balance, curve } = clip;
  const { sampleRate, layoutId, monoLaw } = project;
  return {
    audioKey: source.audioKey,
    sourceLayoutId: source.layout.id,
    ...{ sourceStart, length, fadeIn, fadeOut, channelDb, balance, curve },
    ...{ sampleRate, layoutId, monoLaw },
  };
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
  const stretch = clipStretch(project, clip);
  const key = stretch && stretchKey(stretch.audioKey, stretch);
  known.set(clip, { of: [sources, sampleRate, layoutId, monoLaw], key });
  return key;
}
