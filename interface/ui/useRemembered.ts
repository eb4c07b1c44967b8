import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

const store = createStore<Readonly<Record<string, unknown>>>(() => ({}));

/**
 * State that outlives what shows it, until the page is left: which rows are wanted, say, while one looks elsewhere.
 * @param key of this state and no other
 */
export function useRemembered<T>(key: string, initial: T): readonly [T, (next: T) => void] {
  const value = useStore(store, (all) => (key in all ? (all[key] as T) : initial));
  return [value, (next) => store.setState({ [key]: next })];
}
