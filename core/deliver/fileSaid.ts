import { programmeLayout } from '@/core/audio/layout';
import { NO_METADATA, type AudioMetadata, type StatedLoudness } from '@/core/audio/metadata';
import { WRITTEN } from '@/core/audio/pcm';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { Project } from '@/core/programme/model';
import type { DeliveryFile } from './deliveryFiles';
import { factsOf } from './fileKinds';

const DAY_SECONDS = 86_400;

/** Loudness as a file states it of itself. */
export const statedOf = (figures: LoudnessFigures): StatedLoudness => ({
  integratedLufs: figures.integratedLufs,
  loudnessRangeLu: figures.loudnessRangeLu,
  maxTruePeakDbtp: figures.truePeakDbtp,
  maxMomentaryLufs: figures.maxMomentaryLufs,
  maxShortTermLufs: figures.maxShortTermLufs,
});

/**
 * What a file says of itself in chunks: texts, when it was made, where it begins, markers. Its loudness is filled in once it is
 * measured.
 * @param now local time, as “2026-01-31 21:04:00”
 * Sources: EBU Tech 3285 (bext); EBU R 98 (coding history).
 */
export function fileSaid(project: Project, file: DeliveryFile, now: string): AudioMetadata {
  const { delivery, from, to } = file;
  const { texts, format } = delivery;
  const sampleRate = delivery.sampleRate ?? project.sampleRate;
  const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
  const atFile = (frame: number): number =>
    Math.round(((frame - from) / project.sampleRate + delivery.headSeconds) * sampleRate);
  const begins = project.time.startSeconds + from / project.sampleRate - delivery.headSeconds;
  const midnight = ((begins % DAY_SECONDS) + DAY_SECONDS) % DAY_SECONDS;
  return {
    ...NO_METADATA,
    description: texts.description || texts.title || null,
    originator: texts.artist || 'Dengung',
    originated: now,
    timeReference: Math.round(midnight * sampleRate),
    codingHistory: `A=PCM,F=${sampleRate},W=${WRITTEN[format.depth].bits},M=${layout.labels.length === 1 ? 'mono' : layout.labels.length === 2 ? 'stereo' : 'multi'},T=Dengung\r\n`,
    markers: project.markers
      .filter(({ at }) => at >= from && at < to)
      .map(({ at, name }) => ({ frame: atFile(at), label: name })),
  };
}

/** Whether a file has a place for what is measured of it, and is to say it. */
export const saysLoudness = ({ delivery }: DeliveryFile): boolean =>
  delivery.saysLoudness && factsOf(delivery.format).saysLoudness;
