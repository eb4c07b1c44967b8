import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faderMessage, PickUp, sameFader, SimulatedController } from './controllers';

describe('messages of a fader', () => {
  it('are control changes and pitch bends, nothing else', () => {
    const read = (...bytes: number[]) => faderMessage('Desk', Uint8Array.from(bytes));
    expect(read(0xb2, 7, 127)).toEqual({ address: { input: 'Desk', channel: 2, control: 7 }, value: 1 });
    expect(read(0xb0, 7, 0)?.value).toBe(0);
    expect(read(0xe0, 0x7f, 0x7f)?.value).toBe(1);
    expect(read(0xe0, 0, 0x40)?.value).toBeCloseTo(0.5, 3);
    for (const bytes of [[0x90, 60, 100], [0xf8], [0xb0, 7], []]) expect(read(...bytes)).toBeNull();
  });

  it('come from the simulated controller as from any other', () => {
    const controller = new SimulatedController();
    const values: number[] = [];
    const end = controller.listen((bytes) => values.push(faderMessage(controller.name, bytes)!.value));
    controller.move(127);
    end();
    controller.move(0);
    expect(values).toEqual([1]);
    const address = { input: 'a', channel: 0, control: 7 };
    expect(sameFader(address, { ...address })).toBe(true);
    expect(sameFader(address, { ...address, control: null })).toBe(false);
  });
});

describe('picking up', () => {
  it('never makes a jump larger than the fader itself makes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 60 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (places, start) => {
          const pickUp = new PickUp();
          let present = start;
          let last: number | null = null;
          for (const value of places) {
            const next = pickUp.take(value, present);
            if (next !== null) {
              const most = last === null ? 0.012 : Math.max(0.012, Math.abs(value - last));
              expect(Math.abs(next - present)).toBeLessThanOrEqual(most + 1e-12);
              present = next;
            }
            last = value;
          }
        },
      ),
    );
  });

  it('takes over once it has come past, and not before', () => {
    const pickUp = new PickUp();
    expect(pickUp.take(0.1, 0.5)).toBeNull();
    expect(pickUp.take(0.4, 0.5)).toBeNull();
    expect(pickUp.take(0.6, 0.5)).toBe(0.6);
    expect(pickUp.take(0.2, 0.6)).toBe(0.2);
    pickUp.release();
    expect(pickUp.take(0.9, 0.5)).toBeNull();
  });
});
