'use client';

import Button from '@mui/material/Button';
import { useRef } from 'react';

/** Picks a project file and gives its text on. */
export function OpenProjectFile({ onText }: { onText: (text: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label="Project file"
        onChange={(event) => {
          void event.target.files?.[0]?.text().then(onText);
          event.target.value = '';
        }}
      />
      <Button color="inherit" onClick={() => input.current?.click()}>
        Open a project file
      </Button>
    </>
  );
}
