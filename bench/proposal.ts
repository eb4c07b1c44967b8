import { performance } from 'node:perf_hooks';
import { proposeParts } from '@/core/proposals/findParts';
import { ledgerRow } from '@/core/proposals/ledger';
import { propose } from '@/core/proposals/propose';
import { measuredClip, type LevelRequest, type MeasuredClip } from '@/core/proposals/proposal';
import { STEREO } from '@/core/audio/layout';
import { LoudnessMeter } from '@/core/loudness/meter';
import { PLAIN_CLIP, type Clip } from '@/core/programme/model';
import { clipMeasurementOf, type ClipMeasurement } from '@/core/measuring/measureClip';
import { EBU_R128 } from '@/core/check/shipped';

const CLIPS = 2_000;
const RATE = 48_000;
/** Sounds that are really measured; the clips take turns with their blocks moved up and down. */
const MEASURED = 20;
const RUNS = 9;

/** Noise that comes and goes, 10 s. */
function measured(n: number): ClipMeasurement {
  const meter = new LoudnessMeter(STEREO, RATE);
  let seed = 7919 * (n + 1);
  const next = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5;
  const channel = Float32Array.from(
    { length: 10 * RATE },
    (_, i) => next() * 0.3 * Math.abs(Math.sin((i * (n + 3)) / 60_000)),
  );
  meter.push([channel, channel]);
  return clipMeasurementOf(meter.finish());
}

function best(work: () => void): number {
  const took = Array.from({ length: RUNS }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return Math.min(...took);
}

/** Proposals for 2,000 measured clips of 10 s, and the rows of their ledger. */
export async function benchProposal(): Promise<string[]> {
  const sounds = Array.from({ length: MEASURED }, (_, n) => measured(n));
  const entries = Array.from({ length: CLIPS }, (_, i): MeasuredClip => {
    const sound = sounds[i % MEASURED]!;
    const lift = 1 + (i % 50) / 25;
    const clip: Clip = {
      ...PLAIN_CLIP,
      id: `c${i}`,
      trackId: 't',
      sourceId: 's',
      name: `clip ${i}`,
      start: i * RATE,
      length: 10 * RATE,
      sourceStart: 0,
    };
    return measuredClip(clip, { ...sound, blocks: sound.blocks.map((z) => z * lift) });
  });
  const request: LevelRequest = {
    ...{ measure: 'integrated', mode: 'each', goal: -23, ceilingDbtp: -1, policy: 'stop' },
    ...{ spokenOnly: false, floorLufs: -50 },
  };
  const each = best(() => void propose(entries, request));
  const together = best(() => void propose(entries, { ...request, mode: 'together' }));
  const ledger = best(() => entries.forEach((entry) => ledgerRow(entry, EBU_R128)));
  let turn = 0;
  // Another distance each time: what was found is kept.
  const parts = best(() => {
    const distance = 6 + ++turn / 100;
    for (const entry of entries) proposeParts(entry, { ceilingDbtp: -1 }, { distance });
  });
  const line = (what: string, ms: number): string =>
    `  ${what.padEnd(26)} ${ms.toFixed(1)} ms; ${(ms / 100).toFixed(2)} of the 100 ms it may take`;
  return Promise.resolve([
    `Proposals for ${CLIPS.toLocaleString('en')} measured clips of 10 s`,
    line('each to −23 LUFS', each),
    line('all together', together),
    line('rows of the ledger', ledger),
    line('parts that stand out', parts),
  ]);
}
