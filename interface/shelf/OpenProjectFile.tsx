'use client';

import Button from '@mui/material/Button';
import { useRef } from 'react';

/** Picks a project file and gives it on. */
export function OpenProjectFile({ onFile }: { onFile: (file: File) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        accept=".dengung,.json,application/json"
        aria-label="Project file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
      <Button color="inherit" onClick={() => input.current?.click()}>
        Open a project file
      </Button>
    </>
  );
}
