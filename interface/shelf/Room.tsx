import Box from '@mui/material/Box';
import { useEffect, useState } from 'react';
import { byteSize } from '@/core/text/figures';

/** What is kept in this browser, and how much room it says there is. */
export function Room() {
  const [room, setRoom] = useState<{ readonly used: number; readonly most: number } | null>(null);
  useEffect(() => {
    let gone = false;
    void navigator.storage
      ?.estimate()
      .then(({ usage, quota }) => {
        if (!gone && usage !== undefined && quota !== undefined) setRoom({ used: usage, most: quota });
      })
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, []);
  if (!room) return null;
  const scarce = room.most - room.used < 2e9 || room.used > 0.8 * room.most;
  return (
    <Box data-room sx={{ mt: 2, fontSize: 12.5, color: scarce ? 'warning.main' : 'text.secondary' }}>
      {byteSize(room.used)} are stored in this browser; there is room for {byteSize(room.most)}.
      {scarce && ' That is little: save projects as files, delete those that are done, and empty the bin.'}
    </Box>
  );
}
