'use client';

import { useDeferredValue, type ReactNode } from 'react';

/** What is not needed at once: built after the first picture, in pieces between what hands do. */
export function Later({ children }: { children: ReactNode }) {
  return useDeferredValue(true, false) ? children : null;
}
