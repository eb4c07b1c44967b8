import type { Clip, Project } from '@/core/programme/model';
import { clipKey } from '@/core/signal/clipKey';
import { clipSound } from '@/core/signal/clipSound';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { ClipTask, Failure } from '@/engine/protocol';
import { measurePool } from '@/engine/measurePool';
import { getClipMeasurement, putClipMeasurement } from '@/storage/measurements';
import { Gathered } from './gathered';

/** How long measurements are collected before they are told, ms. */
const TELL_MS = 80;
/** How long a drag must hold still before it is measured, ms. */
const STILL_MS = 150;

/** What clip measurements need of their session. */
interface Host {
  readonly audioOf: (audioKey: string) => Blob | undefined;
  readonly known: () => ReadonlyMap<string, ClipMeasurement>;
  readonly onMeasured: (measurements: ReadonlyMap<string, ClipMeasurement>) => void;
  /** @param name of the clip */
  readonly onFailed: (name: string, failure: Failure) => void;
}

/**
 * Sees to it that every clip has its own measurement: from the store if it is there, else from the workers. What is no
 * longer wanted is given up.
 */
export class ClipMeasurer {
  private readonly underWay = new Map<string, AbortController>();
  /** Clips whose exact true peak is being worked out. */
  private readonly exact = new Set<string>();
  private readonly closing = new AbortController();
  private readonly measured = new Gathered<ClipMeasurement>(TELL_MS, (told) => this.host.onMeasured(told));
  /** Clips besides those of the programme that are measured as well. */
  also: readonly Clip[] = [];
  private still: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly host: Host) {}

  /**
   * Asks for what is missing.
   * @param passing it is still being dragged: it is measured once the drag holds still, and not stored
   */
  want(project: Project, passing: boolean): void {
    if (this.still) clearTimeout(this.still);
    this.still = null;
    if (passing) this.still = setTimeout(() => this.measureMissing(project, false), STILL_MS);
    else this.measureMissing(project, true);
  }

  /** Has clips measured that are not in the programme as they are. @returns takes it back */
  wantAlso(clips: readonly Clip[]): () => void {
    this.also = clips;
    return () => {
      if (this.also === clips) this.also = [];
    };
  }

  private measureMissing(project: Project, keep: boolean): void {
    const known = this.host.known();
    const wanted = new Set<string>();
    for (const clip of [...project.clips, ...this.also]) {
      const key = clipKey(project, clip);
      if (!key || known.has(key) || this.measured.has(key)) continue;
      wanted.add(key);
      // What was given up is begun anew.
      if (this.underWay.get(key)?.signal.aborted === false) continue;
      const sound = clipSound(project, clip)!;
      const blob = this.host.audioOf(sound.audioKey);
      if (blob) void this.measure(key, clip.name, { sound, blob }, keep);
    }
    for (const [key, controller] of this.underWay) if (!wanted.has(key)) controller.abort();
  }

  private async measure(key: string, name: string, task: ClipTask, keep: boolean): Promise<void> {
    const controller = new AbortController();
    this.underWay.set(key, controller);
    try {
      const stored = await getClipMeasurement(key).catch(() => null);
      if (stored) return this.measured.add(key, stored);
      const outcome = await measurePool().measureClip(task, controller.signal);
      if ('failure' in outcome) this.host.onFailed(name, outcome.failure);
      if (!('ok' in outcome)) return;
      this.measured.add(key, outcome.ok);
      // Only a shortcut for the next visit: if it cannot be kept, it is measured again then.
      if (keep) await putClipMeasurement(key, outcome.ok).catch(() => undefined);
    } finally {
      if (this.underWay.get(key) === controller) this.underWay.delete(key);
    }
  }

  /** Works out the exact true peaks of clips that have been measured; what is under way already goes on. */
  wantExact(project: Project, clips: readonly Clip[]): void {
    const known = this.host.known();
    for (const clip of clips) {
      const key = clipKey(project, clip);
      const measurement = key === null ? undefined : known.get(key);
      if (key === null || !measurement || measurement.exactTruePeakDbtp !== undefined || this.exact.has(key))
        continue;
      const sound = clipSound(project, clip)!;
      const blob = this.host.audioOf(sound.audioKey);
      if (blob) void this.workOutExact(key, clip.name, { sound, blob }, measurement);
      else this.measured.add(key, { ...measurement, exactTruePeakDbtp: null });
    }
  }

  private async workOutExact(
    key: string,
    name: string,
    task: ClipTask,
    measurement: ClipMeasurement,
  ): Promise<void> {
    this.exact.add(key);
    try {
      const { signal } = this.closing;
      const outcome = await measurePool().exactClipPeak(task, measurement.truePeaks, signal);
      if ('failure' in outcome) {
        this.host.onFailed(name, outcome.failure);
        // The standard's figure has to do: what waits for this one would wait for ever.
        this.measured.add(key, { ...measurement, exactTruePeakDbtp: null });
      }
      if (!('ok' in outcome)) return;
      const whole = { ...measurement, exactTruePeakDbtp: outcome.ok.exact };
      this.measured.add(key, whole);
      await putClipMeasurement(key, whole).catch(() => undefined);
    } finally {
      this.exact.delete(key);
    }
  }

  close(): void {
    this.closing.abort();
    this.measured.close();
    if (this.still) clearTimeout(this.still);
    for (const controller of this.underWay.values()) controller.abort();
  }
}
