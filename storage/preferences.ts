import { settingsStore } from './stores';

/** What a person prefers, by name; `null` when nothing was kept. What is kept may be older than the code that reads it. */
export const getPreference = (name: string): Promise<unknown> => settingsStore.getItem(`preference-${name}`);

export async function putPreference(name: string, value: unknown): Promise<void> {
  await settingsStore.setItem(`preference-${name}`, value);
}
