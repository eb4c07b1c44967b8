'use client';

import Box from '@mui/material/Box';
import { useState } from 'react';
import { setSourceTrims } from '@/core/programme/edits/levels';
import { SOURCE_TRIM } from '@/core/programme/gainField';
import { heldTrims } from '@/core/programme/heldChange';
import type { Id, Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { gainText } from '../programme/clipLevel';
import { GainField } from '../editing/GainField';
import { doHeld } from '../session/doHeld';
import { useSession } from '../session/SessionContext';
import { AlsoPlaced, usePlaced } from './AlsoPlaced';
import { ChosenPopover } from './ChosenPopover';

/** Corrects the chosen sources: clips placed from now on begin with it; those placed already only if asked. */
export function TrimMenu({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [alsoPlaced, setAlsoPlaced] = useState(false);
  const placed = usePlaced(chosen);
  const trims = new Set(chosen.map(({ trimDb }) => trimDb));
  const trim = trims.size === 1 ? [...trims][0]! : null;
  const who = chosen.length === 1 ? chosen[0]!.name : count(chosen.length, 'source');
  return (
    <ChosenPopover
      label="Trim…"
      title="Trim of sources"
      width={320}
      disabled={chosen.length === 0}
      anchor={anchor}
      onAnchor={setAnchor}
    >
      <GainField
        label={`Trim of ${who} (dB)`}
        value={trim}
        range={SOURCE_TRIM}
        onEntry={(entry) => {
          setAnchor(null);
          // Asked anew each time: it changes clips that are heard.
          setAlsoPlaced(false);
          const also = alsoPlaced && placed > 0 ? ` and ${count(placed, 'clip')}` : '';
          const trims = (of: (source: Source) => number): ReadonlyMap<Id, number> =>
            new Map(chosen.map((source) => [source.id, of(source)]));
          if (entry.kind === 'set')
            return session.do(`Trim ${who}${also} to ${gainText(entry.db)}`, (project) =>
              setSourceTrims(
                project,
                trims(() => entry.db),
                alsoPlaced,
              ),
            );
          doHeld(
            session,
            heldTrims(session.project, new Set(chosen.map(({ id }) => id)), entry.db),
            (db) => `Trim ${who}${also} by ${gainText(db)}`,
            (project, db) =>
              setSourceTrims(
                project,
                trims(({ trimDb }) => trimDb + db),
                alsoPlaced && 'change',
              ),
          );
        }}
      />
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 1 }}>
        Every clip placed from now on begins with it. The figures of the source stay as recorded.
      </Box>
      <AlsoPlaced placed={placed} checked={alsoPlaced} onChange={setAlsoPlaced} />
    </ChosenPopover>
  );
}
