import { dbToPower } from '@/core/loudness/decibels';
import { integratedWithin } from '@/core/loudness/levelTrack';
import { integrated } from '@/core/loudness/gating';
import { gatingBlocks } from '@/core/loudness/windows';
import { heardWithin } from '@/core/signal/audible';
import { clampGain } from '@/core/programme/gainField';
import { everythingRoom } from '@/core/programme/edits/levels';
import { clipEnd } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import { jumps } from '@/core/check/findings/course';
import { dialogueFigures } from '@/core/check/findings/speech';
import type { Finding } from '@/core/check/findings/finding';
import { isOver } from '@/core/check/judge';
import { speechRules } from '@/core/check/verdict';
import { withFix, type Fix, type FixChange } from './fix';
import { resultOf, type TriedState, type Workshop } from './workshop';

/** As near to the target as a shift is worked out, LU. */
const CLOSE_LU = 1e-4;

/** The loudness that is held against the target with all of the programme moved by so much, LUFS. */
function ruledAt({ material, target }: Workshop, db: number): number | null {
  const power = dbToPower(db);
  const energy = material.energy.map((value) => value * power);
  const { sampleRate, speech } = material;
  return speechRules(target, dialogueFigures(material)) && speech
    ? integratedWithin({ energy, sampleRate }, speech).integratedLufs
    : integrated(gatingBlocks(energy, sampleRate)).integratedLufs;
}

/** All of the programme to its target by one change of every track’s gain. */
export async function shifted(finding: Finding, workshop: Workshop): Promise<Omit<Fix, 'findingId'> | null> {
  const { project, target, tryOut } = workshop;
  const goal = target.integratedLufs;
  const room = everythingRoom(project);
  let db = 0;
  // The absolute gate does not move along, so once may not be enough.
  for (let pass = 0; pass < 20; pass++) {
    const at = ruledAt(workshop, db);
    if (at === null) return null;
    if (Math.abs(goal - at) < CLOSE_LU) break;
    db = Math.min(room.maxDb, Math.max(room.minDb, db + goal - at));
  }
  if (Math.abs(db) < 1e-9) return null;
  const change: FixChange = { kind: 'shift', db };
  const result = resultOf(await tryOut(withFix(project, change)), workshop);
  const after = ruledAt(workshop, db);
  const mends = after !== null && Math.abs(after - goal) <= target.toleranceLu;
  const what = `${signed(db, 2)} dB on every track`;
  const peak = result.truePeakDbtp;
  const past = isOver(peak, target.maxTruePeakDbtp)
    ? ` True peak then ${withUnit(peak, 'dBTP')}, over the ceiling: mend those places after it.`
    : '';
  return {
    ...{ change, what, before: finding.value, after, mends },
    ...result,
    sentence: `${what} brings it to ${withUnit(after, 'LUFS')}; balance stays.${past}`,
  };
}

/** A jump is brought so far under the limit, LU, in so many passes at most. */
const SPARE_LU = 0.05;
const MOST_JUMP_PASSES = 4;
/** A cut and the start or end of a clip there are one, seconds. */
const AT_CUT_SECONDS = 0.05;

/** Brings the side of a jump that lies farther from the target nearer to the other, by the clip that begins or ends there. */
export async function smoothed(finding: Finding, workshop: Workshop): Promise<Omit<Fix, 'findingId'> | null> {
  const { project, target, material, tryOut, clipsOver, thresholds } = workshop;
  const { value, limit, from: at } = finding;
  if (value === null || limit === null) return null;
  const { sampleRate } = project;
  const near = (frame: number): boolean => Math.abs(frame / sampleRate - at) < AT_CUT_SECONDS;
  const sides = [
    { range: { from: Math.max(0, at - 4), to: at }, edge: clipEnd, db: Math.sign(value) },
    {
      range: { from: at, to: Math.min(material.seconds, at + 4) },
      edge: ({ start }: { start: number }) => start,
      db: -Math.sign(value),
    },
  ];
  const tries: Omit<Fix, 'findingId'>[] = [];
  for (const { range, edge, db: way } of sides) {
    const span = { from: Math.round(range.from * sampleRate), to: Math.round(range.to * sampleRate) };
    const there = heardWithin(project, span).filter(({ clip }) => near(edge(clip)));
    const [clip] = there.length > 1 ? (await clipsOver(range)).filter((one) => near(edge(one.clip))) : there;
    if (!clip) continue;
    const loudest = clip.clip;
    let amount = Math.abs(value) - limit + SPARE_LU;
    let change: FixChange = { kind: 'clips', clipIds: [loudest.id], db: 0 };
    let state: TriedState | null = null;
    let left: Finding | undefined = finding;
    // With other levels, other places count as pauses: once may not be enough.
    for (let pass = 0; pass < MOST_JUMP_PASSES && left; pass++) {
      const db = clampGain(loudest.gain.db + way * amount) - loudest.gain.db;
      change = { ...change, db };
      state = await tryOut(withFix(project, change));
      const { energy, integratedLufs } = state;
      const figures = { ...material.figures, integratedLufs };
      left = jumps({ ...material, energy, figures }, thresholds).find((one) => Math.abs(one.from - at) < 0.5);
      amount += left ? Math.abs(left.value!) - limit + SPARE_LU : 0;
    }
    if (!state) continue;
    const { db } = change;
    const result = resultOf(state, workshop);
    const what = `${signed(db)} dB on ${loudest.name}`;
    const after = left?.value ?? Math.sign(value) * limit;
    tries.push({
      ...{ change, what, before: value, after, mends: left === undefined },
      ...result,
      sentence: `${what}: ${left === undefined ? `a jump of no more than ${withUnit(limit, 'LU')}` : `a jump of ${withUnit(left.value, 'LU')} is left`}, programme ${signed(result.changeLu, 2)} LU.`,
    });
  }
  const overCeiling = ({ truePeakDbtp }: Omit<Fix, 'findingId'>): boolean =>
    isOver(truePeakDbtp, Math.max(target.maxTruePeakDbtp, material.figures.truePeakDbtp ?? -Infinity));
  const good = tries.filter((one) => one.mends && !overCeiling(one));
  return good.sort((a, b) => Math.abs(a.changeLu ?? 0) - Math.abs(b.changeLu ?? 0))[0] ?? null;
}
