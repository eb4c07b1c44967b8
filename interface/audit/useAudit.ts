import { useCallback, useEffect, useRef, useState } from 'react';
import type { WriteFormat } from '@/core/audio/pcm';
import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { figuresAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import type { SoundTrack } from '@/core/audio/stream';
import type { Failure, FileMeasurement } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';
import { applyGainToFile } from '@/engine/programmeEngine';

/** A file under audit. */
export interface Audited {
  readonly file: File;
  readonly measurement: FileMeasurement;
  /** Its sound as plain samples. */
  readonly pcm: Blob;
  /** Its sounds, if it has several, and which of them this is. */
  readonly sounds: readonly SoundTrack[];
  readonly track: number;
}

/** A file that was mended, measured from what was written. */
export interface Mended {
  readonly blob: Blob;
  readonly gainDb: number;
  readonly figures: LoudnessFigures;
  /** Where it does not measure what was worked out, and what was cut off, as full sentences; empty when all is well. */
  readonly wrong: readonly string[];
}

type Work = { readonly label: string; readonly done: number } | null;

/** One file measured, and mended if asked; a new file takes the place of the old. */
export function useAudit() {
  const [audited, setAudited] = useState<Audited | null>(null);
  const [mended, setMended] = useState<Mended | null>(null);
  const [failure, setFailure] = useState<(Failure & { readonly file: string }) | null>(null);
  const [work, setWork] = useState<Work>(null);
  const controller = useRef<AbortController | null>(null);
  useEffect(() => () => controller.current?.abort(), []);

  const begin = useCallback((): AbortController => {
    controller.current?.abort();
    const fresh = new AbortController();
    controller.current = fresh;
    setFailure(null);
    return fresh;
  }, []);
  const cancel = useCallback(() => controller.current?.abort(), []);

  const measure = useCallback(
    async (file: File, track = 0) => {
      const { signal } = begin();
      // Nothing may be taken for the verdict on a file that was not measured.
      setAudited(null);
      setMended(null);
      setWork({ label: 'Measuring', done: 0 });
      const found = await measurePool().soundsOf(file, signal);
      const outcome =
        'ok' in found
          ? await measurePool().measureFile(
              file,
              signal,
              (done) => {
                if (!signal.aborted) setWork({ label: 'Measuring', done });
              },
              { track, layoutId: null, range: null },
            )
          : found;
      if (signal.aborted && controller.current?.signal !== signal) return;
      setWork(null);
      if ('failure' in outcome) setFailure({ ...outcome.failure, file: file.name });
      else if ('ok' in outcome && 'ok' in found) {
        setAudited({ file, ...outcome.ok, sounds: found.ok, track });
      }
    },
    [begin],
  );

  const mend = useCallback(
    async ({ file, pcm, measurement }: Audited, gainDb: number, format: WriteFormat) => {
      const { signal } = begin();
      const at = (label: string) => (done: number) => {
        if (!signal.aborted) setWork({ label, done });
      };
      const finish = (): boolean => {
        if (controller.current?.signal !== signal) return false;
        setWork(null);
        return true;
      };
      at('Writing the corrected file')(0);
      const written = await applyGainToFile(pcm, gainDb, null, format, signal, at('Writing the corrected file'));
      if (!('ok' in written)) {
        if (finish() && 'failure' in written) setFailure({ ...written.failure, file: file.name });
        return;
      }
      const measured = await measurePool().measureFile(
        written.ok.blob,
        signal,
        at('Measuring the corrected file'),
        { ...WHOLE_FIRST_SOUND, as: wavChannels(measurement.format.layout).layout },
      );
      if (!finish()) return;
      if ('failure' in measured) setFailure({ ...measured.failure, file: file.name });
      else if ('ok' in measured)
        setMended({
          blob: written.ok.blob,
          gainDb,
          figures: measured.ok.measurement.figures,
          wrong: [
            clippedNote(written.ok.clippedSamples),
            disagreement(figuresAfterGain(measurement, gainDb), measured.ok.measurement.figures),
          ].filter((sentence) => sentence !== null),
        });
    },
    [begin],
  );

  return { audited, mended, failure, work, measure, mend, cancel };
}
