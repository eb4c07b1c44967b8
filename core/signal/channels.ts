import { DUAL_MONO, programmeLayout, type Layout } from '@/core/audio/layout';
import { mixMatrix, type MixMatrix } from '@/core/audio/mixMatrix';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { balanceAt, sameBalance } from '@/core/programme/balanceCurve';
import type { Clip, MonoLaw } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import { finishedSamples, type Piece } from './piece';
import { ALWAYS, plainStation } from './station';

/** On which side of the room a loudspeaker stands. */
function sideOf(label: string): 'left' | 'right' | null {
  if (label.startsWith('LFE')) return null;
  return label.includes('L') ? 'left' : label.includes('R') ? 'right' : null;
}

/**
 * How a clip's channels are laid into the programme's: as {@link mixMatrix} says, each incoming channel with its own gain,
 * and the balance.
 *
 * A mono source in a programme without a centre goes to both sides: at −3.01 dB (constant power, as loud as by itself), or
 * in full (`full`: each side as loud as the source, together 3.01 dB more). With constant power the balance moves it
 * between the sides at the same power; everything else is turned down on the side that it moves away from.
 */
export function clipMatrix(
  from: Layout,
  to: Layout,
  { channelDb, balance }: Pick<Clip, 'channelDb' | 'balance'>,
  monoLaw: MonoLaw,
): MixMatrix {
  const { matrix, constantPower } = unbalanced(from, to, monoLaw);
  if (balance === 0 && channelDb.length === 0) return matrix;
  return matrix.map((row, c) => {
    const side = sideGain(sideOf(to.labels[c]!), balance, constantPower);
    return row.map((gain, i) => gain * side * dbToAmplitude(channelDb[i] ?? 0));
  });
}

/** How channels are laid before any balance, and whether a balance moves their sound between the sides at the same power. */
function unbalanced(from: Layout, to: Layout, monoLaw: MonoLaw) {
  const bothSides = from.labels.length === 1 && to.labels.length > 1 && !to.labels.includes('C');
  const full = monoLaw === 'full' || from.id === DUAL_MONO.id;
  return {
    matrix: mixMatrix(bothSides && full ? DUAL_MONO : from, to),
    constantPower: bothSides && !full,
  };
}

/** What a balance does to a channel on a side. */
function sideGain(side: 'left' | 'right' | null, balance: number, constantPower: boolean): number {
  if (side === null) return 1;
  const towards = side === 'left' ? -balance : balance;
  if (constantPower) return Math.SQRT2 * Math.sin(((1 + towards) * Math.PI) / 4);
  return towards >= 0 ? 1 : Math.cos((towards * Math.PI) / 2);
}

/** Lays a piece into the programme's channels with its balance over time. @param at frame of the clip at which it begins */
function balancedOverTime(piece: Piece, sound: ClipSound, at: number): Piece {
  const { clip, sourceLayout, layoutId, monoLaw } = sound;
  const layout = programmeLayout(layoutId);
  const { constantPower } = unbalanced(sourceLayout, layout, monoLaw);
  const matrix = clipMatrix(sourceLayout, layout, { ...clip, balance: 0 }, monoLaw);
  const laid = finishedSamples({ ...piece, matrix });
  const first = clip.sourceStart + at;
  const balance = Float64Array.from({ length: piece.frames }, (_, k) =>
    balanceAt(clip.balanceCurve, first + k),
  );
  laid.forEach((samples, c) => {
    const side = sideOf(layout.labels[c]!);
    if (side === null) return;
    for (let k = 0; k < samples.length; k++) samples[k]! *= sideGain(side, balance[k]!, constantPower);
  });
  return { ...piece, sound: laid, matrix: null, gainDb: 0 };
}

/** How a clip's channels are laid into the programme's, with a gain on each and the balance. */
export const channels = plainStation<ClipSound>({
  name: 'channels',
  key({ clip: { channelDb, balance, balanceCurve }, layoutId, monoLaw }) {
    const moved = channelDb.length > 0 || balance !== 0;
    return [
      layoutId,
      ...(monoLaw === 'full' ? ['full'] : []),
      ...(moved ? [balance, ...channelDb] : []),
      ...balanceCurve.map((point) => `${point.at}:${point.balance}:${point.shape ?? ''}`),
    ];
  },
  difference(a, b) {
    const same =
      a.layoutId === b.layoutId &&
      a.monoLaw === b.monoLaw &&
      a.clip.balance === b.clip.balance &&
      sameBalance(a.clip.balanceCurve, b.clip.balanceCurve) &&
      a.clip.channelDb.length === b.clip.channelDb.length &&
      a.clip.channelDb.every((db, c) => db === b.clip.channelDb[c]);
    return same ? null : ALWAYS;
  },
  apply(piece, sound, at) {
    const { clip, sourceLayout, layoutId, monoLaw } = sound;
    if (clip.balanceCurve.length > 0) return balancedOverTime(piece, sound, at);
    return { ...piece, matrix: clipMatrix(sourceLayout, programmeLayout(layoutId), clip, monoLaw) };
  },
  asRecorded: (project) => ({
    ...project,
    clips: project.clips.map((clip) => ({ ...clip, channelDb: [], balance: 0, balanceCurve: [] })),
  }),
});
