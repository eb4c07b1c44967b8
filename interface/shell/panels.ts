import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

/** What commands can open over any stage. */
type Panel = 'settings' | 'history' | null;

const store = createStore<{ readonly open: Panel }>(() => ({ open: null }));

export const openPanel = (open: Panel): void => store.setState({ open });

export const useOpenPanel = (): Panel => useStore(store, ({ open }) => open);
