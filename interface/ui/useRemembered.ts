import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

const store = createStore<Readonly<Record<string, unknown>>>(() => ({}));

/** Sets it from elsewhere: for what is shown next. */
export const remember = (key: string, value: unknown): void => store.setState({ [key]: value });

/**
 * State that outlives what shows it, until the page is left: which rows are wanted, say, while one looks elsewhere.
 * @param key of this state and no other
 */
export function useRemembered<T>(key: string, initial: T): readonly [T, (next: T) => void] {
  const value = useStore(store, (all) => (key in all ? (all[key] as T) : initial));
  return [value, (next) => remember(key, next)];
}
