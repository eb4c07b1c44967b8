import { DUAL_MONO, programmeLayout, type Layout } from '@/core/audio/layout';
import { mixMatrix, type MixMatrix } from '@/core/audio/mixMatrix';
import { dbToAmplitude } from '@/core/loudness/decibels';
import type { Clip, MonoLaw } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
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
  const bothSides = from.labels.length === 1 && to.labels.length > 1 && !to.labels.includes('C');
  const full = monoLaw === 'full' || from.id === DUAL_MONO.id;
  const matrix = mixMatrix(bothSides && full ? DUAL_MONO : from, to);
  if (balance === 0 && channelDb.length === 0) return matrix;
  const side = (label: string): number => {
    const towards = { left: -balance, right: balance }[sideOf(label) ?? 'left'];
    if (sideOf(label) === null) return 1;
    if (bothSides && !full) return Math.SQRT2 * Math.sin(((1 + towards) * Math.PI) / 4);
    return towards >= 0 ? 1 : Math.cos((towards * Math.PI) / 2);
  };
  return matrix.map((row, c) =>
    row.map((gain, i) => gain * side(to.labels[c]!) * dbToAmplitude(channelDb[i] ?? 0)),
  );
}

/** How a clip's channels are laid into the programme's, with a gain on each and the balance. */
export const channels = plainStation<ClipSound>({
  name: 'channels',
  key({ clip: { channelDb, balance }, layoutId, monoLaw }) {
    const moved = channelDb.length > 0 || balance !== 0;
    return [layoutId, ...(monoLaw === 'full' ? ['full'] : []), ...(moved ? [balance, ...channelDb] : [])];
  },
  difference(a, b) {
    const same =
      a.layoutId === b.layoutId &&
      a.monoLaw === b.monoLaw &&
      a.clip.balance === b.clip.balance &&
      a.clip.channelDb.length === b.clip.channelDb.length &&
      a.clip.channelDb.every((db, c) => db === b.clip.channelDb[c]);
    return same ? null : ALWAYS;
  },
  apply: (piece, { clip, sourceLayout, layoutId, monoLaw }) => ({
    ...piece,
    matrix: clipMatrix(sourceLayout, programmeLayout(layoutId), clip, monoLaw),
  }),
  asRecorded: (project) => ({
    ...project,
    clips: project.clips.map((clip) => ({ ...clip, channelDb: [], balance: 0 })),
  }),
});
