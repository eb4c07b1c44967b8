import { number, object, string } from 'yup';
import { createStore, type StoreApi } from 'zustand/vanilla';
import {
  controllerInputs,
  faderMessage,
  PickUp,
  sameFader,
  SimulatedController,
  type ControllerInput,
  type FaderAddress,
} from '@/engine/controllers';
import { getPreference, putPreference } from '@/storage/preferences';
import { FADER, type Riding } from '../../session/riding';

/** For those without a controller, and for tests. */
export const simulated = new SimulatedController();

interface ExternalState {
  /** `null` until the browser was asked. */
  readonly inputs: readonly ControllerInput[] | null;
  readonly isSimulated: boolean;
  /** The fader that is used. */
  readonly address: FaderAddress | null;
  readonly learning: boolean;
  /** It has come past where the fader on the screen stands, and moves it. */
  readonly hasIt: boolean;
  /** Why none can be heard, a full sentence. */
  readonly failure: string | null;
}

const kept = object({
  input: string().required().max(200),
  channel: number().required().integer().min(0).max(15),
  control: number().nullable().defined().integer().min(0).max(127),
});

const partOf = (db: number): number => (db - FADER.min) / (FADER.max - FADER.min);
const dbOf = (part: number): number => FADER.min + part * (FADER.max - FADER.min);

/** An external fader does not say when it is let go: it is once it rests so long, ms, where nothing is ridden, dB. */
const REST_MS = 400;
const REST_DB = 0.5;

/** A controller's fader that moves the one on the screen: learnt by moving it, taking over without a jump. */
class ExternalFader {
  readonly store: StoreApi<ExternalState> = createStore<ExternalState>(() => ({
    ...{ inputs: null, isSimulated: false, address: null, learning: false, hasIt: false, failure: null },
  }));
  private readonly pickUp = new PickUp();
  private riding: Riding | null = null;
  private ends: (() => void)[] = [];
  private rest: ReturnType<typeof setTimeout> | null = null;

  /** Moves this ride. @returns ends it */
  attach(riding: Riding): () => void {
    this.riding = riding;
    void this.recall();
    // Moved by another hand, or begun anew, it has to come past it again.
    const end = riding.store.subscribe((now, before) => {
      if (now.recording !== before.recording) this.drop();
    });
    this.listen();
    return () => {
      end();
      for (const stop of this.ends.splice(0)) stop();
      this.riding = null;
    };
  }

  private async recall(): Promise<void> {
    const address: unknown = await getPreference('fader').catch(() => null);
    if (this.store.getState().address === null && kept.isValidSync(address, { strict: true }))
      this.store.setState({ address: address as FaderAddress });
  }

  async connect(): Promise<void> {
    try {
      this.store.setState({ inputs: await controllerInputs(), failure: null });
      this.listen();
    } catch (error) {
      const why = error instanceof Error ? error.message : '';
      this.store.setState({
        failure: `MIDI cannot be used: ${why} Allow it in the browser, then connect again.`,
      });
    }
  }

  toggleSimulated(): void {
    const isSimulated = !this.store.getState().isSimulated;
    this.store.setState({
      isSimulated,
      ...(isSimulated && { address: { input: simulated.name, channel: 0, control: 7 } }),
    });
    this.drop();
    this.listen();
  }

  learn(): void {
    this.store.setState(({ learning }) => ({ learning: !learning }));
  }

  private drop(): void {
    this.pickUp.release();
    this.store.setState({ hasIt: false });
  }

  private listen(): void {
    for (const stop of this.ends.splice(0)) stop();
    const { inputs, isSimulated } = this.store.getState();
    for (const input of [...(inputs ?? []), ...(isSimulated ? [simulated] : [])])
      this.ends.push(input.listen((bytes) => this.heard(input.name, bytes)));
  }

  private heard(input: string, bytes: Uint8Array): void {
    const message = faderMessage(input, bytes);
    const { riding } = this;
    if (!message || !riding) return;
    const { learning, address } = this.store.getState();
    if (learning) {
      this.store.setState({ learning: false, address: message.address });
      this.drop();
      void putPreference('fader', message.address).catch(() => undefined);
      return;
    }
    if (!address || !sameFader(address, message.address)) return;
    const { recording, faderDb } = riding.store.getState();
    if (!recording) return;
    const part = this.pickUp.take(message.value, partOf(faderDb));
    this.store.setState({ hasIt: this.pickUp.hasIt });
    if (part === null) return;
    riding.move(dbOf(part));
    if (this.rest) clearTimeout(this.rest);
    this.rest = null;
    if (Math.abs(dbOf(part)) <= REST_DB) this.rest = setTimeout(() => riding.letGo(), REST_MS);
  }
}

/** The one that this page has. */
export const externalFader = new ExternalFader();
