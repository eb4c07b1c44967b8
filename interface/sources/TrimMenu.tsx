'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { setSourceTrim } from '@/core/programme/edits/levels';
import { SOURCE_TRIM } from '@/core/programme/gainField';
import type { Source } from '@/core/programme/model';
import { count } from '../parts/words';
import { gainText } from '../programme/clipLevel';
import { GainField } from '../programme/GainField';
import { useProject, useSession } from '../session/SessionContext';
import { AlsoPlaced } from './AlsoPlaced';

/** Corrects the chosen sources: clips placed from now on begin with it; those placed already only if asked. */
export function TrimMenu({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  const { clips } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [alsoPlaced, setAlsoPlaced] = useState(false);
  const ids = new Set(chosen.map(({ id }) => id));
  const placed = clips.filter((clip) => ids.has(clip.sourceId)).length;
  const trims = new Set(chosen.map(({ trimDb }) => trimDb));
  const trim = trims.size === 1 ? [...trims][0]! : null;
  const who = chosen.length === 1 ? chosen[0]!.name : count(chosen.length, 'source');
  return (
    <>
      <Button
        color="inherit"
        disabled={chosen.length === 0}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Trim…
      </Button>
      <Popover
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Trim of sources' } }}
      >
        <Box sx={{ p: 2, width: 320 }}>
          <GainField
            label={`Trim of ${who} (dB)`}
            value={trim}
            range={SOURCE_TRIM}
            onEntry={(entry) => {
              setAnchor(null);
              const each = (source: Source): number =>
                entry.kind === 'set' ? entry.db : source.trimDb + entry.db;
              const also = alsoPlaced && placed > 0 ? ` and ${count(placed, 'clip')}` : '';
              const by = entry.kind === 'set' ? `to ${gainText(entry.db)}` : `by ${gainText(entry.db)}`;
              session.do(`Trim ${who}${also} ${by}`, (project) =>
                chosen.reduce(
                  (state, source) => setSourceTrim(state, new Set([source.id]), each(source), alsoPlaced),
                  project,
                ),
              );
            }}
          />
          <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 1 }}>
            Every clip placed from now on begins with it. The figures of the source stay as recorded.
          </Box>
          <AlsoPlaced placed={placed} checked={alsoPlaced} onChange={setAlsoPlaced} />
        </Box>
      </Popover>
    </>
  );
}
