import { mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';

/** The detector hears mono at this rate, Hz, in frames of so many samples, and says of each how surely it is a voice. */
export const VOICE_RATE = 16_000;
export const VOICE_FRAME = 512;
const FRAME_SECONDS = VOICE_FRAME / VOICE_RATE;

/** Somebody begins to speak where it is this sure, and goes on while it is not surer of the opposite than this. */
const BEGINS = 0.5;
const GOES_ON = 0.35;
/** A breath between two words ends nothing, seconds. */
const BREATH = 0.4;
/** What is shorter is no word, seconds. */
const SHORTEST = 0.2;
/** Soft first and last sounds lie outside what is found, seconds. */
const AROUND = 0.06;

/** One frame's certainty, 0 to 1, as one byte. */
export const certaintyByte = (certainty: number): number =>
  Math.round(255 * Math.min(1, Math.max(0, certainty)));

/**
 * When somebody speaks, out of how sure the detector is of each frame.
 * @param certainty one byte a frame, see {@link certaintyByte}
 * @param seconds length of the sound
 * @returns seconds of the sound, in order
 */
export function voiceRanges(certainty: Uint8Array, seconds: number): TimeRange[] {
  const found: { from: number; to: number }[] = [];
  let open = false;
  certainty.forEach((byte, i) => {
    const sure = byte / 255;
    open = sure >= BEGINS || (open && sure >= GOES_ON);
    if (!open) return;
    const last = found.at(-1);
    const [from, to] = [i * FRAME_SECONDS, (i + 1) * FRAME_SECONDS];
    if (last && from - last.to <= BREATH) last.to = to;
    else found.push({ from, to });
  });
  return mergeRanges(
    found
      .filter(({ from, to }) => to - from >= SHORTEST)
      .map(({ from, to }) => ({ from: Math.max(0, from - AROUND), to: Math.min(seconds, to + AROUND) })),
  );
}
