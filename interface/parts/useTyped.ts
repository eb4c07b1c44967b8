import { useState, type ChangeEvent, type FocusEvent, type KeyboardEvent } from 'react';

/**
 * What is being typed into a field that shows a value: Enter or leaving the field takes it, Escape gives the value back.
 * @param shown the value as it stands
 * @param take does what was typed, or says what is accepted
 */
export function useTyped(shown: string, take: (text: string) => string | null) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const give = (): void => {
    setDraft(null);
    setError(null);
  };
  const apply = (): void => {
    const trouble = draft === null || draft.trim() === shown ? null : take(draft);
    if (trouble === null) give();
    else setError(trouble);
  };
  return {
    error,
    handlers: {
      value: draft ?? shown,
      onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>): void => {
        setDraft(event.target.value);
        setError(null);
      },
      onFocus: (event: FocusEvent<HTMLInputElement | HTMLTextAreaElement>): void => event.target.select(),
      onBlur: apply,
      onKeyDown: (event: KeyboardEvent): void => {
        if (event.key === 'Enter') {
          // What gets the focus when the field goes away is not pressed by the same key.
          event.preventDefault();
          apply();
        }
        if (event.key === 'Escape' && draft !== null) {
          // It is the draft that is given up, not what the field stands in.
          event.stopPropagation();
          give();
        }
      },
    },
  };
}
