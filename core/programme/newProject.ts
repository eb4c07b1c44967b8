import { EBU_R128 } from '@/core/check/shipped';
import { plainDelivery } from './delivery';
import { SCHEMA_VERSION } from './migrations';
import { PLAIN_TRACK, type Id, type Project } from './model';

/** A project with nothing in it yet: 48 kHz stereo, EBU R 128, one dialogue track. */
export function newProject(id: Id, name: string, trackId: Id): Project {
  return {
    schema: SCHEMA_VERSION,
    id,
    name,
    sampleRate: 48_000,
    layoutId: 'stereo',
    monoLaw: 'constantPower',
    time: { frameRateId: null, startSeconds: 0 },
    target: EBU_R128,
    otherTargets: [],
    thresholds: {},
    accepted: [],
    sources: [],
    tracks: [{ id: trackId, name: 'Dialogue', role: 'dialogue', ...PLAIN_TRACK }],
    clips: [],
    groups: [],
    markers: [],
    deliveries: [plainDelivery('whole', EBU_R128)],
    plan: null,
    planAnchorLufs: null,
    curve: [],
    limiter: null,
    passthrough: null,
    cutFaults: [],
  };
}
