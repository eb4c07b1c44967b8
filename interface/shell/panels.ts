import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

/** What commands can open over any stage. */
export type Panel = 'settings' | 'history';

const store = createStore<{ readonly open: Panel | null }>(() => ({ open: null }));

export const openPanel = (open: Panel | null): void => store.setState({ open });

export const useOpenPanel = (): Panel | null => useStore(store, ({ open }) => open);
