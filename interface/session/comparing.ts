import { createStore, type StoreApi } from 'zustand/vanilla';
import { PROGRAMME_LAYOUTS } from '@/core/audio/layout';
import type { Alignment } from '@/core/loudness/alignment';
import type { LevelDifference } from '@/core/loudness/levelDifference';
import { MOMENTARY_SUB_BLOCKS, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { momentaryWindows } from '@/core/loudness/windows';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { placeSource } from '@/core/programme/edits/clips';
import { PROGRAMME_RATES, setSampleRate } from '@/core/programme/edits/settings';
import { goToStep } from '@/core/programme/history';
import type { Project, Source } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { newSource } from '@/core/programme/newSource';
import { measurePool } from '@/engine/measurePool';
import type { ProgrammeEngine } from '@/engine/programmeEngine';
import type { Energies, Failure, Outcome } from '@/engine/protocol';
import { storageError } from '@/storage/failure';
import { loadProject } from '@/storage/projects';
import { newId } from './newId';
import { fetchSounds } from './sounds';
import type { SessionState } from './state';

/** What the programme is compared with. */
export interface OtherSound {
  readonly kind: 'step' | 'project' | 'file';
  readonly name: string;
  /** At the rate of the present programme: places count in its frames. */
  readonly project: Project;
  readonly figures: LoudnessFigures;
  readonly levels: Energies;
  /** Clips whose sound is not there; they are in none of its figures. */
  readonly leftOut: number;
}

export interface ComparingState {
  readonly other: OtherSound | null;
  /** How the two were found to lie; `null` where nothing says so, or nothing was asked. */
  readonly alignment: Alignment | null;
  /** What is at a time in the programme is so much later in the other, seconds. */
  readonly offsetSeconds: number;
  /** The offset was typed. */
  readonly byHand: boolean;
  readonly difference: LevelDifference | null;
  readonly work: { readonly label: string; readonly done: number } | null;
  readonly failure: Failure | null;
}

const NOTHING: ComparingState = {
  ...{ other: null, alignment: null, offsetSeconds: 0, byHand: false, difference: null },
  ...{ work: null, failure: null },
};

interface Host {
  readonly store: StoreApi<SessionState>;
  readonly engine: ProgrammeEngine;
  readonly playable: (project: Project) => Project;
  /** Another sound is compared with, or lies elsewhere: what is heard may have changed. */
  readonly onChange: () => void;
}

/** Sounds are held against each other to the frame over so much, within so much around the offset found, seconds. */
const FINE_SECONDS = 0.5;
const FINE_AROUND = 0.03;
/** From this likeness on the two are taken for versions of one sound, even where their samples do not fit. */
const ALIKE = 0.5;

/** A file as a programme of its own. */
function programmeOfFile(source: Source, sampleRate: number): Project {
  const known = PROGRAMME_LAYOUTS.some(({ id }) => id === source.layout.id);
  const trackId = newId();
  const project: Project = {
    ...newProject(newId(), source.name, trackId),
    sampleRate: PROGRAMME_RATES.find((rate) => rate === sampleRate) ?? 48_000,
    ...(known && { layoutId: source.layout.id }),
    sources: [source],
  };
  return placeSource(project, { clipId: newId(), sourceId: source.id, trackId, start: 0 });
}

/** Holds the programme against another version of it, another project or a file: where they differ, and by ear. */
export class Comparing {
  readonly store: StoreApi<ComparingState> = createStore<ComparingState>(() => NOTHING);
  private controller: AbortController | null = null;
  private watchers = 0;
  private leave: (() => void) | null = null;
  /** What of the programme the difference is of. */
  private of: unknown = null;

  constructor(private readonly host: Host) {}

  /** Keeps the difference up to date from now on. @returns ends that */
  watch(): () => void {
    this.watchers++;
    this.leave ??= this.host.store.subscribe(() => this.follow());
    this.follow();
    return () => {
      if (--this.watchers > 0) return;
      this.leave?.();
      this.leave = null;
    };
  }

  close(): void {
    this.leave?.();
    this.controller?.abort();
  }

  cancel(): void {
    this.controller?.abort();
    this.store.setState({ work: null });
  }

  clear(): void {
    this.cancel();
    this.store.setState(NOTHING);
    this.host.onChange();
  }

  /** What is heard of it. */
  get heardOther() {
    const { other, offsetSeconds } = this.store.getState();
    return other && { project: other.project, integratedLufs: other.figures.integratedLufs, offsetSeconds };
  }

  // ---- what it is compared with ----------------------------------------------------------------------------------

  /** @param steps the state after so many of them */
  withStep(steps: number, name: string): Promise<void> {
    const { history } = this.host.store.getState();
    return this.take(async (signal) =>
      this.measured({ kind: 'step', name, project: goToStep(history, steps).project, leftOut: 0 }, signal),
    );
  }

  withProject(id: string, name: string): Promise<void> {
    return this.take(async (signal) => {
      const { engine } = this.host;
      const loaded = await loadProject(id);
      if (!loaded)
        return {
          failure: { code: 'gone', message: `“${name}” is not there any more.`, hint: 'Select another.' },
        };
      const { project } = loaded.history;
      await fetchSounds(project.sources, {
        put: (key, blob) => engine.putAudio(key, blob),
        has: (key) => engine.hasAudio(key),
      });
      const leftOut = project.clips.length - this.host.playable(project).clips.length;
      return this.measured({ kind: 'project', name, project, leftOut }, signal);
    });
  }

  withFile(file: File): Promise<void> {
    return this.take(async (signal) => {
      const outcome = await measurePool().measureFile(file, signal, (done) =>
        this.at(`Measuring ${file.name}`, done, signal),
      );
      if (!('ok' in outcome)) return outcome;
      const { measurement, pcm } = outcome.ok;
      const { format, figures, energy, sampleRate } = measurement;
      const audioKey = newId();
      const source = newSource({ id: newId(), name: file.name, audioKey, byteLength: file.size }, format);
      this.host.engine.putAudio(audioKey, pcm);
      const project = programmeOfFile(source, format.sampleRate);
      return {
        ok: { kind: 'file', name: file.name, project, figures, levels: { energy, sampleRate }, leftOut: 0 },
      };
    });
  }

  private at(label: string, done: number, signal: AbortSignal): void {
    if (!signal.aborted) this.store.setState({ work: { label, done } });
  }

  private async measured(
    other: Pick<OtherSound, 'kind' | 'name' | 'project' | 'leftOut'>,
    signal: AbortSignal,
  ): Promise<Outcome<OtherSound>> {
    this.at(`Measuring ${other.name}`, 0, signal);
    const { engine, playable } = this.host;
    const outcome = await engine.summaryOf(playable(other.project));
    if (!('ok' in outcome)) return outcome;
    const { figures, energy, sampleRate } = outcome.ok;
    return { ok: { ...other, figures, levels: { energy, sampleRate } } };
  }

  private async take(bring: (signal: AbortSignal) => Promise<Outcome<OtherSound>>): Promise<void> {
    this.controller?.abort();
    const controller = new AbortController();
    this.controller = controller;
    const { signal } = controller;
    this.store.setState({ ...NOTHING, work: { label: 'Opening', done: 0 } });
    const outcome = await bring(signal).catch((error: unknown): Outcome<OtherSound> => {
      const { code, message, hint } = storageError(error);
      return { failure: { code, message, hint } };
    });
    if (signal.aborted) return;
    this.store.setState({ work: null });
    if ('failure' in outcome) this.store.setState({ failure: outcome.failure });
    if (!('ok' in outcome)) return;
    const { sampleRate } = this.host.store.getState().history.project;
    const project = setSampleRate(outcome.ok.project, sampleRate);
    this.store.setState({ other: { ...outcome.ok, project } });
    this.of = null;
    this.follow();
  }

  // ---- how they lie and differ -----------------------------------------------------------------------------------

  /** @param seconds `null`: as it is found from the sound */
  setOffset(seconds: number | null): void {
    this.store.setState({ offsetSeconds: seconds ?? 0, byHand: seconds !== null });
    this.of = null;
    this.follow();
  }

  /** Works the difference out anew when the programme has come to rest in another state. */
  private follow(): void {
    const { programme, measuring, preview } = this.host.store.getState();
    const { other } = this.store.getState();
    if (!other || !programme || measuring !== null || preview !== null || this.of === programme) return;
    this.of = programme;
    this.controller?.abort();
    const controller = new AbortController();
    this.controller = controller;
    void this.compare(
      { energy: programme.energy, sampleRate: programme.sampleRate },
      other,
      controller.signal,
    );
  }

  private async compare(a: Energies, other: OtherSound, signal: AbortSignal): Promise<void> {
    const { byHand, offsetSeconds: typed } = this.store.getState();
    this.at('Comparing', 0, signal);
    // Steps of one project lie where they lie.
    const found = byHand || other.kind === 'step' ? null : await this.align(a, other, signal);
    if (signal.aborted) return;
    // Where nothing says how they lie: both from their beginnings.
    const offsetSeconds = byHand ? typed : (found?.offsetSeconds ?? 0);
    const outcome = await measurePool().levelDifference(a, other.levels, offsetSeconds, signal);
    if (signal.aborted) return;
    if ('ok' in outcome)
      this.store.setState({ alignment: found, offsetSeconds, difference: outcome.ok, failure: null });
    else if ('failure' in outcome) this.store.setState({ failure: outcome.failure });
    this.store.setState({ work: null });
    this.host.onChange();
  }

  /** How the two lie to each other, by their levels and then by their samples; `null` where nothing says so. */
  private async align(a: Energies, other: OtherSound, signal: AbortSignal): Promise<Alignment | null> {
    const outcome = await measurePool().alignSounds(a, other.levels, signal);
    if (!('ok' in outcome)) return null;
    for (const one of outcome.ok) {
      const offsetSeconds = await this.fineOffset(a, other, one.offsetSeconds, signal);
      if (signal.aborted) return null;
      if (offsetSeconds !== null) return { ...one, offsetSeconds };
    }
    const [likeliest] = outcome.ok;
    return likeliest && likeliest.alike >= ALIKE ? likeliest : null;
  }

  /** The offset to the frame, by the samples where the programme is loudest. @returns `null` where they do not fit */
  private async fineOffset(
    a: Energies,
    other: OtherSound,
    offset: number,
    signal: AbortSignal,
  ): Promise<number | null> {
    const { project } = this.host.store.getState().history;
    const { sampleRate } = project;
    const at = loudestPlace(a, other.levels, offset);
    if (at === null) return null;
    const frames = (seconds: number): number => Math.round(seconds * sampleRate);
    const { engine, playable } = this.host;
    const begin = frames(at + offset - FINE_AROUND);
    try {
      const [own, others] = await Promise.all([
        engine.renderHeard(playable(project), frames(at), frames(FINE_SECONDS), [], 2),
        engine.renderHeard(playable(other.project), begin, frames(FINE_SECONDS + 2 * FINE_AROUND), [], 2),
      ]);
      const mono = (channels: Float32Array[]): Float32Array =>
        channels[0]!.map((_, i) => channels.reduce((sum, channel) => sum + channel[i]!, 0));
      const outcome = await measurePool().alignFrames(mono(own), mono(others), signal);
      if (!('ok' in outcome) || outcome.ok.offset === null) return null;
      return (begin + outcome.ok.offset - frames(at)) / sampleRate;
    } catch {
      return null;
    }
  }
}

/** Where both sound, and the first is loudest, seconds of the first. */
function loudestPlace(a: Energies, b: Energies, offset: number): number | null {
  const [own, others] = [a, b].map(({ energy, sampleRate }) => momentaryWindows(energy, sampleRate)) as [
    Float64Array,
    Float64Array,
  ];
  const shift = Math.round(offset * SUB_BLOCKS_PER_SECOND);
  let best = 0;
  let place: number | null = null;
  own.forEach((power, k) => {
    if (power <= best || !((others[k + shift] ?? 0) > 0)) return;
    if (k + shift < MOMENTARY_SUB_BLOCKS) return;
    [best, place] = [power, k / SUB_BLOCKS_PER_SECOND];
  });
  return place;
}
