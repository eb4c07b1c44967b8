import { amplitudeToDb, dbToAmplitude } from '@/core/loudness/decibels';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { signed, withUnit } from '@/core/text/figures';

/** What a service does when a gain would bring peaks over its ceiling. */
type ServicePeaks = 'nothing' | 'stops' | 'limits';

/** What a service does to what it plays. */
export interface Service {
  readonly id: string;
  readonly name: string;
  /** Loudness to which it plays, LUFS; `null`: as it is. */
  readonly referenceLufs: number | null;
  /** Turns down what is louder, and up what is quieter. */
  readonly turnsDown: boolean;
  readonly turnsUp: boolean;
  /** When it turns up. */
  readonly peaks: ServicePeaks;
  /** Of its limiter, or where it stops, dBTP. */
  readonly ceilingDbtp: number;
  /** Goes by the loudness of the album in place of the file's. */
  readonly byAlbum: boolean;
}

/** Made up, and typical: each is named for what it does. */
export const SHIPPED_SERVICES: readonly Service[] = [
  {
    ...{ id: 'video-down-14', name: 'Video platform, turns down only, −14' },
    ...{
      referenceLufs: -14,
      turnsDown: true,
      turnsUp: false,
      peaks: 'nothing',
      ceilingDbtp: -1,
      byAlbum: false,
    },
  },
  {
    ...{ id: 'music-both-limiter', name: 'Music, both ways with limiter, −14' },
    ...{
      referenceLufs: -14,
      turnsDown: true,
      turnsUp: true,
      peaks: 'limits',
      ceilingDbtp: -1,
      byAlbum: false,
    },
  },
  {
    ...{ id: 'music-album-stops', name: 'Music by album, both ways, up to the ceiling, −14' },
    ...{ referenceLufs: -14, turnsDown: true, turnsUp: true, peaks: 'stops', ceilingDbtp: -1, byAlbum: true },
  },
  {
    ...{ id: 'podcast-none', name: 'Podcast, played as it is' },
    ...{
      referenceLufs: null,
      turnsDown: false,
      turnsUp: false,
      peaks: 'nothing',
      ceilingDbtp: 0,
      byAlbum: false,
    },
  },
  {
    ...{ id: 'television-metadata', name: 'Television set, by loudness metadata, −24' },
    ...{ referenceLufs: -24, turnsDown: true, turnsUp: true, peaks: 'stops', ceilingDbtp: 0, byAlbum: false },
  },
];

/** What becomes of a sound with a service. */
export interface Listened {
  /** dB */
  readonly gainDb: number;
  /** The same as players show it, per cent of amplitude. */
  readonly percent: number;
  readonly listenerLufs: number | null;
  /** True peak that comes out; held at the ceiling where it is limited. */
  readonly listenerDbtp: number | null;
  /** How far a limiter has to go down at most, dB. */
  readonly limitedDb: number;
}

/**
 * What a listener gets of a sound.
 * @param albumLufs loudness of the album, where the service goes by it and it is known
 */
export function listened(
  { integratedLufs, truePeakDbtp }: Pick<LoudnessFigures, 'integratedLufs' | 'truePeakDbtp'>,
  { referenceLufs, turnsDown, turnsUp, peaks, ceilingDbtp, byAlbum }: Service,
  albumLufs: number | null = null,
): Listened {
  const goesBy = byAlbum ? (albumLufs ?? integratedLufs) : integratedLufs;
  const wanted = referenceLufs === null || goesBy === null ? 0 : referenceLufs - goesBy;
  let gainDb = (wanted < 0 && turnsDown) || (wanted > 0 && turnsUp) ? wanted : 0;
  if (gainDb > 0 && peaks === 'stops' && truePeakDbtp !== null)
    gainDb = Math.max(0, Math.min(gainDb, ceilingDbtp - truePeakDbtp));
  const peak = truePeakDbtp === null ? null : truePeakDbtp + gainDb;
  const limits = peaks === 'limits' && gainDb > 0 && peak !== null && peak > ceilingDbtp;
  return {
    gainDb,
    percent: percentOf(gainDb),
    listenerLufs: integratedLufs === null ? null : integratedLufs + gainDb,
    listenerDbtp: limits ? ceilingDbtp : peak,
    limitedDb: limits ? peak - ceilingDbtp : 0,
  };
}

/** A gain as per cent of amplitude. */
export const percentOf = (gainDb: number): number => 100 * dbToAmplitude(gainDb);
/** The same the other way; `null` for nothing. */
const gainOfPercent = (percent: number): number | null => amplitudeToDb(percent / 100);

/** How loud something was published that a service turns down to so many per cent, LUFS; `null` where it does not. */
export function publishedLufs(percent: number, { referenceLufs, turnsDown }: Service): number | null {
  const gainDb = gainOfPercent(percent);
  return referenceLufs === null || !turnsDown || gainDb === null ? null : referenceLufs - gainDb;
}

/** What a listener gets, in a sentence. */
export function listenedSentence(found: Listened, service: Service): string {
  const { gainDb, percent, listenerLufs, limitedDb } = found;
  if (listenerLufs === null) return 'There is nothing to measure.';
  if (Math.abs(gainDb) < 0.05) {
    const why =
      service.referenceLufs === null
        ? 'It is played as it is'
        : listenerLufs < service.referenceLufs - 0.05
          ? `It is ${withUnit(service.referenceLufs - listenerLufs, 'LU')} quieter than ${withUnit(service.referenceLufs, 'LUFS')} and stays so`
          : 'It is played as it is';
    return `${why}: ${withUnit(listenerLufs, 'LUFS')}.`;
  }
  const limited = limitedDb > 0 ? ` Its peaks are limited by up to ${withUnit(limitedDb, 'dB')}.` : '';
  return `Played at ${Math.round(percent)} % (${signed(gainDb)} dB): ${withUnit(listenerLufs, 'LUFS')}.${limited}`;
}
