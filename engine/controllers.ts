/** What a fader of a controller is known by: the input, and which of its messages. */
export interface FaderAddress {
  /** Name of the input. */
  readonly input: string;
  /** 0 to 15. */
  readonly channel: number;
  /** Number of the control change; `null`: the pitch bend. */
  readonly control: number | null;
}

/** Something that sends MIDI messages. */
export interface ControllerInput {
  readonly name: string;
  /** @returns ends it */
  readonly listen: (onMessage: (bytes: Uint8Array) => void) => () => void;
}

/**
 * Reads a message of a fader. Source: MIDI 1.0, control change (status B, 7 bits) and pitch bend (status E, 14 bits).
 * @returns which fader, and where it stands, 0 to 1; `null` for any other message
 */
export function faderMessage(
  input: string,
  bytes: Uint8Array,
): { readonly address: FaderAddress; readonly value: number } | null {
  const [status = 0, first = 0, second = 0] = bytes;
  const channel = status & 0x0f;
  if ((status & 0xf0) === 0xb0 && bytes.length >= 3)
    return { address: { input, channel, control: first }, value: second / 127 };
  if ((status & 0xf0) === 0xe0 && bytes.length >= 3)
    return { address: { input, channel, control: null }, value: (first + 128 * second) / 16_383 };
  return null;
}

export const sameFader = (a: FaderAddress, b: FaderAddress): boolean =>
  a.input === b.input && a.channel === b.channel && a.control === b.control;

/** “Desk: controller 7”. */
export const faderText = ({ input, channel, control }: FaderAddress): string =>
  `${input}: ${control === null ? 'pitch bend' : `controller ${control}`}, channel ${channel + 1}`;

/** The controllers that the browser lets the page hear. @throws Error where it does not */
export async function controllerInputs(): Promise<readonly ControllerInput[]> {
  if (typeof navigator.requestMIDIAccess !== 'function')
    throw new Error('This browser does not offer MIDI to pages.');
  const access = await navigator.requestMIDIAccess();
  return [...access.inputs.values()].map((input) => ({
    name: input.name ?? 'Controller',
    listen(onMessage) {
      const heard = ({ data }: MIDIMessageEvent): void => void (data && onMessage(data));
      input.addEventListener('midimessage', heard);
      return () => input.removeEventListener('midimessage', heard);
    },
  }));
}

/** A controller that is moved on the screen: for those without one. */
export class SimulatedController implements ControllerInput {
  readonly name = 'Simulated controller';
  private readonly listeners = new Set<(bytes: Uint8Array) => void>();

  readonly listen = (onMessage: (bytes: Uint8Array) => void): (() => void) => {
    this.listeners.add(onMessage);
    return () => this.listeners.delete(onMessage);
  };

  /** Puts its fader somewhere. @param value 0 to 127 */
  move(value: number): void {
    for (const listener of this.listeners) listener(Uint8Array.of(0xb0, 7, value));
  }
}

/**
 * Follows a fader that stands somewhere else than what it moves: it takes over once it has come past that, so that nothing
 * jumps.
 */
export class PickUp {
  private last: number | null = null;
  private has = false;

  get hasIt(): boolean {
    return this.has;
  }

  /** What it moves stands elsewhere now: it has to come past it again. */
  release(): void {
    this.has = false;
    this.last = null;
  }

  /**
   * @param value where the fader stands
   * @param present where what it moves stands
   * @returns where that goes; `null` while it has not come past it
   */
  take(value: number, present: number): number | null {
    const { last } = this;
    this.last = value;
    if (!this.has) {
      const near = Math.abs(value - present) < 0.012;
      const past = last !== null && (last - present) * (value - present) <= 0;
      this.has = near || past;
    }
    return this.has ? value : null;
  }
}
