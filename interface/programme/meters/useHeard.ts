import { useMemo } from 'react';
import { useStore } from 'zustand';
import { windowAt, peakAt, TrackLevels } from '@/core/measuring/trackLevels';
import { dbToAmplitude, dbToPower, lufsToMeanSquare } from '@/core/loudness/decibels';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';

/** What is heard at a place, as it is metered: mean squares and linear peaks; `null` where it is not known. */
interface HeardAt {
  readonly momentary: number | null;
  readonly shortTerm: number | null;
  readonly integrated: number | null;
  readonly truePeak: number | null;
  readonly samplePeak: number | null;
}

const UNKNOWN: HeardAt = {
  ...{ momentary: null, shortTerm: null, integrated: null, truePeak: null, samplePeak: null },
};

/** What is heard besides the plain programme, in a word or two; `null` when nothing is. */
export interface Heard {
  readonly told: string | null;
  /** @param frame programme frames */
  readonly at: (frame: number) => HeardAt;
}

/** What is heard: the programme, the state it is compared with, or the tracks that are soloed. */
export function useHeard(): Heard {
  const session = useSession();
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const soloed = useSessionState((state) => state.soloed);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const { compared, summary, matched, shiftDb } = useStore(session.listening.comparison.store);
  const { sampleRate } = project;
  return useMemo((): Heard => {
    if (soloed.size > 0 && compared === null) {
      const heard = new Set(
        project.tracks.filter(({ id, muted }) => soloed.has(id) && !muted).map(({ id }) => id),
      );
      const clips = project.clips.filter(({ trackId }) => heard.has(trackId));
      const levels = new TrackLevels(clips, session.clipMeasurements(project), sampleRate);
      return {
        // Powers and peaks of clips that lie over each other are added up.
        told: 'solo ≈',
        at: (frame) => ({ ...UNKNOWN, ...levels.at(frame) }),
      };
    }
    const of = compared === null ? programme : soloed.size === 0 ? summary : null;
    const told = compared === null ? null : 'compared';
    // Until it is matched nothing is known of how loud it is heard.
    if (!of || (compared !== null && matched && shiftDb === null)) return { told, at: () => UNKNOWN };
    const shift = compared !== null && matched ? (shiftDb ?? 0) : 0;
    const [power, amplitude] = [dbToPower(shift), dbToAmplitude(shift)];
    const { integratedLufs } = of.figures;
    return {
      told,
      at: (frame) => {
        const seconds = frame / sampleRate;
        return {
          momentary: windowAt(of.blocks, 0.4, seconds) * power,
          shortTerm: windowAt(of.shortTerm, 3, seconds) * power,
          integrated: integratedLufs === null ? 0 : lufsToMeanSquare(integratedLufs) * power,
          truePeak: peakAt(of.truePeaks, seconds) * amplitude,
          samplePeak: peakAt(of.samplePeaks, seconds) * amplitude,
        };
      },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
  }, [session, project, programme, soloed, measurements, compared, summary, matched, shiftDb, sampleRate]);
}
