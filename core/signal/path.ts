import type { Project } from '@/core/programme/model';
import { channels } from './channels';
import type { ClipSound } from './clipSound';
import { fades } from './fades';
import { gainCurve, programmeCurve, trackCurve } from './gainCurve';
import { clipGain, trackGain } from './gains';
import { clipLimiter, programmeLimiter, trackLimiter } from './limiter/station';
import { source } from './source';
import type { Station } from './station';
import type { TrackSound } from './trackSound';

/** What makes a clip's own sound, before its gain: this is what is measured of a clip, and what its key names. */
export const CLIP_SHAPE: readonly Station<ClipSound>[] = [source, gainCurve, fades, channels];

/** How loud it then sounds; its limiter stands behind its gain. */
export const CLIP_LEVEL: readonly Station<ClipSound>[] = [clipGain, clipLimiter];

/** All that lies on a clip itself. */
export const CLIP_PATH: readonly Station<ClipSound>[] = [...CLIP_SHAPE, ...CLIP_LEVEL];

/** What lies on the sum of a track's clips; its limiter stands behind its gain. */
export const TRACK_PATH: readonly Station<TrackSound>[] = [trackCurve, trackGain, trackLimiter];

/** What lies on the sum of all tracks. */
export const PROGRAMME_PATH: readonly Station<Project>[] = [programmeCurve, programmeLimiter];
