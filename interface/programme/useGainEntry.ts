import { useState } from 'react';
import { parseGainEntry, type GainEntry, type GainRange } from '@/core/programme/gainField';
import { figure } from '@/core/text/figures';

/**
 * The draft of a gain that is being typed: Enter applies it, Escape takes it back, leaving the field applies it.
 * @param value dB; `null` when several differ
 */
export function useGainEntry(value: number | null, range: GainRange, onEntry: (entry: GainEntry) => void) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const shown = value === null ? '' : figure(value, 2);
  const give = (): void => {
    setDraft(null);
    setError(null);
  };
  const apply = (): void => {
    if (draft === null || draft.trim() === '' || draft === shown) return give();
    const entry = parseGainEntry(draft, range);
    if ('error' in entry) return setError(entry.error);
    give();
    onEntry(entry);
  };
  return {
    error,
    handlers: {
      value: draft ?? shown,
      onChange: (event: { readonly target: { readonly value: string } }): void => {
        setDraft(event.target.value);
        setError(null);
      },
      onFocus: (event: { readonly target: EventTarget }): void => (event.target as HTMLInputElement).select(),
      onBlur: apply,
      onKeyDown: (event: { readonly key: string; preventDefault: () => void }): void => {
        if (event.key === 'Enter') {
          // What gets the focus when the field goes away is not pressed by the same key.
          event.preventDefault();
          apply();
        }
        if (event.key === 'Escape') give();
      },
    },
  };
}
