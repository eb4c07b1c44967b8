const ROOM = Symbol.for('dengung.server');

/** What all routes share: each is bundled by itself, and modules are not the same to them. */
export function shared<T>(name: string, make: () => T): T {
  const all = globalThis as { [ROOM]?: Map<string, unknown> };
  const room = (all[ROOM] ??= new Map());
  if (!room.has(name)) room.set(name, make());
  return room.get(name) as T;
}
