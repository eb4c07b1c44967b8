import { spokenClips } from '@/core/programme/dialogue';
import { clock, signed, withUnit } from '@/core/text/figures';
import type { Finding } from '@/core/check/findings/finding';
import { speechDistances } from '@/core/check/findings/speech';
import { withFix, type Fix, type FixChange } from './fix';
import { resultOf, type ClipOver, type Workshop } from './workshop';

/** Brought so far past the limit, LU. */
const SPARE_LU = 0.01;
/** As near to the limit as it is brought, LU. */
const NEAR_LU = 0.1;
/** What has to go down by more than this is no fix, dB. */
const MOST_DB = 30;
const MOST_TRIES = 5;
/** A short-term window at the edge of the place hears so much of what lies beside it, seconds. */
const BESIDE_SECONDS = 1.5;

interface Found {
  readonly change: FixChange;
  readonly db: number;
  readonly after: number;
}

/** The least by which some clips have to go down; `null` where they alone cannot. */
async function leastOf(
  clips: readonly ClipOver[],
  { from, to, value, limit }: Finding,
  { project, material, apartWith }: Workshop,
): Promise<Found | null> {
  const { sampleRate } = project;
  const [begin, end] = [Math.max(0, from - BESIDE_SECONDS), Math.min(material.seconds, to + BESIDE_SECONDS)];
  const range = { from: Math.round(begin * sampleRate), to: Math.round(end * sampleRate) };
  const clipIds = clips.map(({ clip }) => clip.id);
  let db = limit! - value! + SPARE_LU;
  let best: Found | null = null;
  for (let tries = 0; tries < MOST_TRIES && db <= MOST_DB; tries++) {
    const change: FixChange = { kind: 'parts', clipIds, range, db: -db };
    // Ramps and the filters' settling lie beside the part.
    const apart = await apartWith(withFix(project, change), {
      from: Math.max(0, begin - 0.2),
      to: end + 0.7,
    });
    if (!apart) return null;
    const after = speechDistances(apart, material.speech!)
      .slice(Math.floor(from * 10 + 1e-6), Math.ceil(to * 10 - 1e-6))
      .reduce<number>((least, distance) => Math.min(least, distance ?? Infinity), Infinity);
    if (after >= limit! - 1e-6) {
      if (!best || db < best.db) best = { change, db, after };
      if (after - limit! < NEAR_LU) break;
    }
    const next = db + (limit! - after) + SPARE_LU;
    // What else sounds there is not lowered: more of it may be in the way than they can make up for.
    if (next <= 0 || Math.abs(next - db) < SPARE_LU / 2) break;
    db = next;
  }
  return best;
}

/** Lowers what sounds beside speech where it comes too close: as few clips as do it, the loudest first. */
export async function besideSpeech(
  finding: Finding,
  workshop: Workshop,
): Promise<Omit<Fix, 'findingId'> | null> {
  const { project, material, tryOut, clipsOver } = workshop;
  const { from, to, value, limit } = finding;
  if (!material.apart || !material.speech || value === null || limit === null) return null;
  const spoken = new Set(spokenClips(project).map(({ id }) => id));
  const others = (await clipsOver({ from, to })).filter(
    ({ clip, energy }) => !spoken.has(clip.id) && energy > 0,
  );
  for (let count = 1; count <= others.length; count++) {
    const clips = others.slice(0, count);
    const found = await leastOf(clips, finding, workshop);
    if (!found) continue;
    const { change, db, after } = found;
    const result = resultOf(await tryOut(withFix(project, change)), workshop);
    const names = clips.map(({ clip }) => clip.name);
    const what = `${signed(-db)} dB on ${names.slice(0, 2).join(' and ')}${names.length > 2 ? ` and ${names.length - 2} more` : ''}, ${clock(Math.max(0, from - BESIDE_SECONDS))}–${clock(to + BESIDE_SECONDS)}`;
    return {
      ...{ change, what, before: value, after, mends: true },
      ...result,
      sentence: `${what}: the rest ${withUnit(after, 'LU')} under speech, programme ${signed(result.changeLu, 2)} LU.`,
    };
  }
  return null;
}
