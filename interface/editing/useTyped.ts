import { useRef, useState, type ChangeEvent, type FocusEvent, type KeyboardEvent } from 'react';

/**
 * What is being typed into a field that shows a value: Enter or leaving the field takes it, Escape gives the value back.
 * @param shown the value as it stands
 * @param take does what was typed, or says what is accepted
 * @param onDone told when it was taken or given up: for a field that is there only while it is typed into
 * @param leaves once a figure was taken by Enter the keys go back to the programme; otherwise the next one can be typed
 */
export function useTyped(
  shown: string,
  take: (text: string) => string | null,
  onDone?: () => void,
  leaves = false,
) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  // Taking it may move the focus, and leaving the field then must not take it once more.
  const typed = useRef<string | null>(null);
  const give = (): void => {
    typed.current = null;
    setDraft(null);
    setError(null);
    onDone?.();
  };
  const apply = (): void => {
    const text = typed.current;
    typed.current = null;
    const trouble = text === null || text.trim() === shown ? null : take(text);
    if (trouble === null) return give();
    typed.current = text;
    setError(trouble);
  };
  return {
    error,
    /** Something was typed that is not taken yet. */
    isTyping: draft !== null,
    handlers: {
      value: draft ?? shown,
      onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>): void => {
        typed.current = event.target.value;
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
          const field = event.target as HTMLInputElement;
          // What could not be taken stays to be put right.
          if (leaves && typed.current === null) return field.blur();
          requestAnimationFrame(() => {
            if (document.activeElement === field) field.select();
          });
        }
        if (event.key !== 'Escape') return;
        // With nothing typed, the keys go back to the stage, and what the field stands in may close.
        if (draft === null && !onDone) return (event.target as HTMLElement).blur();
        // Else it is the draft that is given up, not what the field stands in.
        event.stopPropagation();
        give();
      },
    },
  };
}
