import { useEffect, useState } from 'react';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { measurePool } from '@/engine/measurePool';

/** Exact true peaks by the measurement they belong to, dBTP; `null` for silence, or where one could not be found. */
type ExactPeaks = ReadonlyMap<SoundMeasurement, number | null>;

/** A sound whose exact true peak is wanted. */
interface WantedSound {
  readonly sound: SoundMeasurement;
  readonly blob: Blob | undefined;
}

/** Works out exact true peaks, one after the other; what becomes known goes to `onKnown`. */
export function useExactSearch(
  next: WantedSound | undefined,
  onKnown: (sound: SoundMeasurement, peak: number | null) => void,
): void {
  const { sound, blob } = next ?? {};
  useEffect(() => {
    if (!sound) return;
    const controller = new AbortController();
    const search = async (): Promise<void> => {
      const outcome =
        blob && (await measurePool().exactPeak(blob, sound.truePeaks, controller.signal, () => undefined));
      if (controller.signal.aborted) return;
      onKnown(sound, outcome && 'ok' in outcome ? outcome.ok.truePeakDbtp : null);
    };
    void search();
    return () => controller.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whom to tell may be another at each drawing
  }, [sound, blob]);
}

/** What is known so far, and how to add to it. */
export function useExactPeaks() {
  const [known, setKnown] = useState<ExactPeaks>(new Map());
  const onKnown = (sound: SoundMeasurement, peak: number | null): void =>
    setKnown((before) => new Map(before).set(sound, peak));
  return { known, onKnown };
}
