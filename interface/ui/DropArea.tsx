'use client';

import Box from '@mui/material/Box';
import { fromEvent, type FileWithPath } from 'file-selector';
import { useRef, useState, type DragEvent, type ReactNode } from 'react';

const hasFiles = (event: DragEvent): boolean => event.dataTransfer.types.includes('Files');

/** An area that takes dropped files, and says so while they hover. */
export function DropArea({
  onFiles,
  label,
  children,
}: {
  /** @param at where they were dropped, client pixels */
  onFiles: (files: File[], at: { readonly x: number; readonly y: number }) => void;
  label: string;
  children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  const depth = useRef(0);
  const leave = (): void => {
    depth.current = 0;
    setOver(false);
  };
  return (
    <Box
      sx={{ position: 'relative', display: 'flex', flexDirection: 'column', flex: 1, minHeight: 0 }}
      onDragEnter={(event) => {
        if (!hasFiles(event)) return;
        depth.current++;
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (hasFiles(event) && --depth.current <= 0) leave();
      }}
      onDragOver={(event) => {
        if (hasFiles(event)) event.preventDefault();
      }}
      onDrop={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        leave();
        // Folders are read through, whatever lies how deep.
        const at = { x: event.clientX, y: event.clientY };
        void fromEvent(event.nativeEvent).then((found) =>
          onFiles(
            found.filter((item): item is FileWithPath => item instanceof File),
            at,
          ),
        );
      }}
    >
      {children}
      {over && (
        <Box
          sx={{
            position: 'absolute',
            inset: 8,
            zIndex: 20,
            display: 'grid',
            placeItems: 'center',
            pointerEvents: 'none',
            border: '2px dashed',
            borderColor: 'primary.main',
            borderRadius: 1,
            bgcolor: 'background.paper',
            opacity: 0.93,
            typography: 'h2',
          }}
        >
          {label}
        </Box>
      )}
    </Box>
  );
}
