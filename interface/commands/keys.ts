import type { KeyBindingMap } from 'tinykeys';
import type { Command } from './command';

/** A sign, such as `?`, stands on some keyboards with Shift and on others without; a letter is told apart by it. */
const isSign = (key: string): boolean => key.length === 1 && !/\p{L}/u.test(key);

/** How the library writes a key of ours; `Ctrl` is the command key where the system has one. */
const written = (key: string): string[] => {
  const own = key.replace('Ctrl', '$mod');
  return isSign(key) ? [own, `Shift+${own}`] : [own];
};

/** The bindings of some keys. @param onKey told the key as commands write it */
export function bindingsOf(
  keys: Iterable<string>,
  onKey: (key: string, event: KeyboardEvent) => void,
): KeyBindingMap {
  const bindings: Record<string, (event: KeyboardEvent) => void> = {};
  for (const key of keys) for (const press of written(key)) bindings[press] = (event) => onKey(key, event);
  return bindings;
}

/** The commands of each key: where several have it, those for a clip that has the focus come first. */
export function commandsByKey(commands: readonly Command[]): ReadonlyMap<string, readonly Command[]> {
  const byKey = new Map<string, Command[]>();
  const clipFirst = [...commands].sort((a, b) => Number(b.onClip ?? false) - Number(a.onClip ?? false));
  for (const command of clipFirst)
    for (const key of command.keys) byKey.set(key, [...(byKey.get(key) ?? []), command]);
  return byKey;
}
