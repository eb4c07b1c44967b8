import { createStore, type StoreApi } from 'zustand/vanilla';
import { asRecorded, shifted, withoutCurves, withoutLimiters } from '@/core/signal/asRecorded';
import { setSampleRate } from '@/core/programme/edits/settings';
import { goToStep, undoStep, type History } from '@/core/programme/history';
import type { Project } from '@/core/programme/model';
import type { Outcome, ProgrammeSummary } from '@/engine/protocol';

/** What is heard instead of the programme as it is; a number: the state after so many steps. */
export type Compared = 'lastStep' | 'asRecorded' | 'noLimiters' | 'noCurves' | 'other' | number;

/** The programme as it is, less something that was done to it. */
const LESS: Readonly<Partial<Record<Compared, (project: Project) => Project>>> = {
  asRecorded,
  noLimiters: withoutLimiters,
  noCurves: withoutCurves,
};

export interface ComparisonState {
  /** `null` while the programme is heard as it is. */
  readonly compared: Compared | null;
  /** The other is heard as loud as the programme is. */
  readonly matched: boolean;
  /** By how much the other is shifted for that, dB; `null` while it is not known. */
  readonly shiftDb: number | null;
  /** What is measured of the other, as it is by itself; `null` while that is not known. */
  readonly summary: ProgrammeSummary | null;
  /** Why it is not. */
  readonly trouble: string | null;
}

interface Around {
  readonly history: () => History;
  /** Integrated loudness of the programme as it is, LUFS. */
  readonly integrated: () => number | null;
  readonly measure: (project: Project) => Promise<Outcome<ProgrammeSummary>>;
  /** Another sound that it is compared with; `null` where there is none. */
  readonly other: () => { readonly project: Project; readonly integratedLufs: number | null } | null;
  readonly onChange: () => void;
}

/** Before and after by ear: which state of the programme is heard, at its own loudness or at that of the present one. */
export class Comparison {
  readonly store: StoreApi<ComparisonState> = createStore<ComparisonState>(() => ({
    compared: null,
    matched: false,
    shiftDb: null,
    summary: null,
    trouble: null,
  }));
  private last: Compared = 'lastStep';
  private turn = 0;
  /** The state that was worked out last, and of what. */
  private other: { readonly of: History; readonly compared: Compared; readonly project: Project } | null =
    null;

  constructor(private readonly around: Around) {}

  /** What is to be heard. @param present as it is, with what is just being dragged */
  heard(present: Project): Project {
    const { compared, matched, shiftDb } = this.store.getState();
    if (compared === null) return present;
    const other = this.stateOf(compared);
    return matched && shiftDb !== null ? shifted(other, shiftDb) : other;
  }

  private stateOf(compared: Compared): Project {
    const history = this.around.history();
    if (compared === 'other') return this.around.other()?.project ?? history.project;
    if (this.other?.of !== history || this.other.compared !== compared) {
      const { sampleRate } = history.project;
      // At the present rate: places count in its frames.
      const project = setSampleRate(
        typeof compared === 'number'
          ? goToStep(history, compared).project
          : (LESS[compared]?.(history.project) ?? undoStep(history).project),
        sampleRate,
      );
      this.other = { of: history, compared, project };
    }
    return this.other.project;
  }

  choose(compared: Compared | null): void {
    if (compared !== null) this.last = compared;
    this.store.setState({ compared });
    this.follow();
  }

  /** Between what is and what was compared last. */
  toggle(): void {
    this.choose(this.store.getState().compared === null ? this.last : null);
  }

  setMatched(matched: boolean): void {
    this.store.setState({ matched });
    this.follow();
  }

  /** Takes up what has changed, in the programme or in the choice. */
  follow(): void {
    const { compared, matched } = this.store.getState();
    if (compared === 'other' && !this.around.other()) return this.choose(null);
    const turn = ++this.turn;
    this.store.setState({ shiftDb: null, summary: null, trouble: null });
    this.around.onChange();
    if (compared === null) return;
    const other = compared === 'other' ? this.around.other() : null;
    // It is measured already.
    if (other) {
      if (matched) this.match(other.integratedLufs);
      return;
    }
    void this.around.measure(this.stateOf(compared)).then((outcome) => {
      if (turn !== this.turn) return;
      if ('failure' in outcome) this.store.setState({ trouble: outcome.failure.message });
      if (!('ok' in outcome)) return;
      this.store.setState({ summary: outcome.ok });
      if (!matched) return;
      this.match(outcome.ok.figures.integratedLufs);
    });
  }

  /** Has the other heard as loud as the programme is. */
  private match(integratedLufs: number | null): void {
    const now = this.around.integrated();
    if (now === null || integratedLufs === null)
      return this.store.setState({ trouble: 'There is no loudness to match.' });
    this.store.setState({ shiftDb: now - integratedLufs });
    this.around.onChange();
  }
}
