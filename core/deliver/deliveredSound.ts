import { programmeLayout, type Layout } from '@/core/audio/layout';
import { isIdentity, mixMatrix } from '@/core/audio/mixMatrix';
import { rateConverter } from '@/core/audio/resample';
import { newMixer } from '@/core/kernels/mixer';
import { dbToAmplitude } from '@/core/loudness/decibels';
import type { Limiter } from '@/core/programme/model';
import { limitedReader, limitedStem, type ReadSound } from '@/core/signal/limiter/limitedReader';

/** Folded to another layout by ITU-R BS.775; the same where it has that one. */
function inLayout(sound: ReadSound, layout: Layout): ReadSound {
  const matrix = mixMatrix(sound.format.layout, layout);
  if (layout.id === sound.format.layout.id || isIdentity(matrix)) return sound;
  return {
    format: { ...sound.format, layout },
    async read(start, count) {
      const mixer = newMixer(layout.labels.length, count);
      mixer.add(await sound.read(start, count), 0, matrix, 1);
      return mixer.finish();
    },
  };
}

/** At another rate; the same where it has that one. */
function atRate(sound: ReadSound, sampleRate: number): ReadSound {
  const { format } = sound;
  if (format.sampleRate === sampleRate) return sound;
  const converter = rateConverter(format.sampleRate, sampleRate);
  return {
    format: { ...format, sampleRate, frames: converter.outputLength(format.frames) },
    async read(start, count) {
      const input = await sound.read(converter.inputStart(start), converter.inputCount(start, count));
      return input.map((channel) => converter.convert(channel, start, count));
    },
  };
}

/** With one gain on all of it. */
function withGain(sound: ReadSound, gainDb: number): ReadSound {
  if (gainDb === 0) return sound;
  const gain = dbToAmplitude(gainDb);
  return {
    format: sound.format,
    read: async (start, count) =>
      (await sound.read(start, count)).map((channel) => channel.map((sample) => sample * gain)),
  };
}

/** With silence before and behind it, frames. */
function withSilence(sound: ReadSound, head: number, tail: number): ReadSound {
  if (head === 0 && tail === 0) return sound;
  const { format } = sound;
  return {
    format: { ...format, frames: format.frames + head + tail },
    async read(start, count) {
      const from = Math.max(0, start - head);
      const to = Math.min(format.frames, start - head + count);
      const inner = to > from ? await sound.read(from, to - from) : null;
      return format.layout.labels.map((_, c) => {
        const out = new Float32Array(count);
        if (inner) out.set(inner[c]!, from + head - start);
        return out;
      });
    },
  };
}

/** What is done to a sound on its way into a file. */
export interface Treatment {
  readonly layoutId: string | null;
  readonly sampleRate: number | null;
  readonly headSeconds: number;
  readonly tailSeconds: number;
}

/** What may be done to its level. */
export interface Given {
  readonly gainDb: number;
  /** Behind the gain. */
  readonly limiter: Limiter | null;
}

export const NOTHING_GIVEN: Given = { gainDb: 0, limiter: null };

/** The sound of the mix in the layout and at the rate of a file. */
export function shaped(sound: ReadSound, { layoutId, sampleRate }: Treatment): ReadSound {
  const folded = layoutId === null ? sound : inLayout(sound, programmeLayout(layoutId));
  return sampleRate === null ? folded : atRate(folded, sampleRate);
}

/**
 * The sound of a file, from its first sample to its last.
 * @param mix where it is a stem, the whole: a limiter takes off the stem what it takes off that
 */
export function deliveredSound(
  sound: ReadSound,
  treatment: Treatment,
  given: Given,
  mix: ReadSound | null = null,
): ReadSound {
  const own = shaped(sound, treatment);
  const limiter = given.limiter && { ...given.limiter, inputDb: given.gainDb };
  const levelled = !limiter
    ? withGain(own, given.gainDb)
    : mix
      ? limitedStem(own, shaped(mix, treatment), limiter)
      : limitedReader(own, limiter);
  const { sampleRate } = own.format;
  return withSilence(
    levelled,
    Math.round(treatment.headSeconds * sampleRate),
    Math.round(treatment.tailSeconds * sampleRate),
  );
}
