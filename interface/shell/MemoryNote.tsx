import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { toFailure } from '@/engine/failure';
import { savePack } from '../session/packs';
import { useSession, useSessionState } from '../session/SessionContext';

/** Says that nothing is stored, and saves the project as a file with its sound. */
export function MemoryNote() {
  const session = useSession();
  const steps = useSessionState((state) => state.history.past.length);
  const [busy, setBusy] = useState(false);
  const save = async (): Promise<void> => {
    setBusy(true);
    try {
      await savePack(session.state.history, session.handover.records(), true);
    } catch (error) {
      session.notes.fail('memory', toFailure(error), 'The project was not saved as a file');
    }
    setBusy(false);
  };
  return (
    <Tooltip title="This browser stores nothing here: what is done is gone once this window is closed or reloaded. Save the project as a file, with its sound.">
      <Button
        color="error"
        variant="outlined"
        data-save="memory"
        data-steps={steps}
        disabled={busy}
        onClick={() => void save()}
      >
        {busy ? 'Saving …' : 'In memory only: save as a file'}
      </Button>
    </Tooltip>
  );
}
