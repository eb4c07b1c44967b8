'use client';

import AddIcon from '@mui/icons-material/Add';
import Button from '@mui/material/Button';
import { useRef, type ReactNode } from 'react';

/** What the system's picker offers; what a file really is, its content decides. */
const SOUND_FILES =
  'audio/*,video/*,.wav,.wave,.rf64,.bw64,.aif,.aiff,.aifc,.caf,.flac,.mp3,.ogg,.oga,.opus,.aac,.m4a,.mp4,.mov,.mkv,.mka,.webm,.ts,.m2ts';

/** A button that opens the system's file picker. */
export function PickFiles({
  label,
  name = label,
  multiple,
  variant = 'contained',
  accept = SOUND_FILES,
  icon = <AddIcon />,
  folder = false,
  onFiles,
}: {
  label: string;
  /** What it is called where its label alone does not say it. */
  name?: string;
  multiple: boolean;
  variant?: 'contained' | 'outlined' | 'text';
  accept?: string;
  icon?: ReactNode;
  /** A folder is picked, with all that lies in it. */
  folder?: boolean;
  onFiles: (files: File[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant={variant} startIcon={icon} aria-label={name} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <input
        ref={input}
        type="file"
        multiple={multiple}
        accept={folder ? undefined : accept}
        {...(folder && { webkitdirectory: '' })}
        aria-label={name}
        tabIndex={-1}
        style={{ display: 'none' }}
        onChange={(event) => {
          // What a system hides in a folder is not meant.
          const files = [...(event.target.files ?? [])].filter(
            ({ name }) => !folder || !name.startsWith('.'),
          );
          event.target.value = '';
          if (files.length > 0) onFiles(files);
        }}
      />
    </>
  );
}
