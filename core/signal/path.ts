import type { Project, Track } from '@/core/programme/model';
import { channels } from './channels';
import type { ClipSound } from './clipSound';
import { fades } from './fades';
import { gainCurve, programmeCurve, trackCurve } from './gainCurve';
import { clipGain, trackGain } from './gains';
import { source } from './source';
import type { Station } from './station';

/** What makes a clip's own sound, before its gain: this is what is measured of a clip, and what its key names. */
export const CLIP_SHAPE: readonly Station<ClipSound>[] = [source, gainCurve, fades, channels];

/** How loud it then sounds. A limiter on a clip stands behind its gain. */
export const CLIP_LEVEL: readonly Station<ClipSound>[] = [clipGain];

/** All that lies on a clip itself. */
export const CLIP_PATH: readonly Station<ClipSound>[] = [...CLIP_SHAPE, ...CLIP_LEVEL];

/** What lies on the sum of a track's clips. A limiter on a track stands behind its gain. */
export const TRACK_PATH: readonly Station<Track>[] = [trackCurve, trackGain];

/** What lies on the sum of all tracks: the place of the programme's limiter. */
export const PROGRAMME_PATH: readonly Station<Project>[] = [programmeCurve];
