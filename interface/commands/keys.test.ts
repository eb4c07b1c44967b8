// @vitest-environment happy-dom
import { tinykeys } from 'tinykeys';
import { afterEach, describe, expect, it } from 'vitest';
import { COMMANDS } from './commands';
import { bindingsOf, commandsByKey } from './keys';

const byKey = commandsByKey(COMMANDS);
let heard: string[] = [];
const unbind = tinykeys(
  window,
  bindingsOf(byKey.keys(), (key) => heard.push(key)),
);

const press = (key: string, held: Partial<KeyboardEventInit> = {}): string[] => {
  heard = [];
  window.dispatchEvent(new KeyboardEvent('keydown', { key, code: key === ' ' ? 'Space' : '', ...held }));
  return heard;
};

afterEach(() => void (heard = []));

describe('keys', () => {
  it('every key of the list means something, and one thing at a time', () => {
    for (const [key, commands] of byKey) {
      const [clip, rest] = [
        commands.filter(({ onClip }) => onClip),
        commands.filter(({ onClip }) => !onClip),
      ];
      expect(clip.length, key).toBeLessThanOrEqual(1);
      // Escape closes a sheet where one is open.
      expect(rest.filter(({ needs }) => needs !== 'sheet').length, key).toBeLessThanOrEqual(1);
      expect(commands[0], key).toBe(clip[0] ?? rest[0]);
    }
  });

  it('letters are told apart by Shift, signs are not: they lie elsewhere on other keyboards', () => {
    expect(press('q')).toEqual(['q']);
    expect(press('Q', { shiftKey: true })).toEqual(['Shift+Q']);
    expect(press('(', { shiftKey: true })).toEqual(['(']);
    expect(press('(')).toEqual(['(']);
    expect(press(' ')).toEqual(['Space']);
  });

  it('a key held with another one is another key', () => {
    expect(press('z', { ctrlKey: true })).toEqual(['Ctrl+z']);
    expect(press('Z', { ctrlKey: true, shiftKey: true })).toEqual(['Ctrl+Shift+z']);
    expect(press('q', { altKey: true })).toEqual([]);
    unbind();
    expect(press('q')).toEqual([]);
  });
});
