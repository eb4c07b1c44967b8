'use client';

import LinkIcon from '@mui/icons-material/AddLink';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import type { Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { PickFiles } from '../ui/PickFiles';
import { useSession, useSessionState } from '../session/SessionContext';

/** A sound is not in this browser, or why the browser cannot read it. */
export type AbsentState = 'missing' | (string & {});

/** Says that a source has no sound and why, with the way to give it a file again. */
export function RelinkButton({ source, absent }: { source: Source; absent: AbsentState }) {
  const session = useSession();
  const why =
    absent === 'missing'
      ? 'Its sound is not in this browser. Relink takes a file for it: clips and gains stay.'
      : `Its sound is there and could not be read. ${absent}`;
  return (
    <Tooltip title={why}>
      <Box component="span" data-absent={absent === 'missing' ? 'missing' : 'unread'} sx={{ flex: 'none' }}>
        {absent === 'missing' ? (
          <PickFiles
            label="Relink…"
            name={`Relink ${source.name}`}
            multiple={false}
            variant="text"
            icon={<LinkIcon />}
            onFiles={([file]) => file && void session.relinks.one(source, file)}
          />
        ) : (
          <Button color="error" onClick={() => void session.open()}>
            Read it again
          </Button>
        )}
      </Box>
    </Tooltip>
  );
}

/** While sound is missing: files for all that miss theirs, found by name, length and content. */
export function AbsentTools() {
  const session = useSession();
  const { missing } = useSessionState((state) => state.absent);
  if (missing.size === 0) return null;
  return (
    <PickFiles
      label={`Relink ${count(missing.size, 'missing file')}…`}
      multiple
      variant="outlined"
      icon={<LinkIcon />}
      onFiles={(files) => void session.relinks.files(files)}
    />
  );
}
