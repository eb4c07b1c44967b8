'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { mergeRanges } from '@/core/loudness/levelTrack';
import { dialogueRanges, spokenClips } from '@/core/programme/dialogue';
import { clock } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { ProgressLine } from '../../ui/ProgressLine';
import { useSession, useSessionState } from '../../session/SessionContext';

/** By what it is known when somebody speaks, and the way to find it where it is not. */
export function SpeechNote() {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const finding = useStore(session.speech.store);
  const { untold, clips, seconds } = useMemo(() => {
    const spoken = spokenClips(project);
    const ids = new Set(spoken.map(({ sourceId }) => sourceId));
    return {
      untold: project.sources.filter(({ id, speech }) => ids.has(id) && speech === null),
      clips: spoken.length,
      seconds: mergeRanges(dialogueRanges(project)).reduce((sum, { from, to }) => sum + to - from, 0),
    };
  }, [project]);
  if (finding.size > 0) {
    const done = [...finding.values()].reduce((sum, one) => sum + one, 0) / finding.size;
    return <ProgressLine label="Finding speech" done={done} onCancel={() => session.speech.cancel()} />;
  }
  if (clips === 0)
    return (
      <Box sx={{ fontSize: 12.5 }}>
        Nothing speaks yet: give a track the role Dialogue or Narration in its menu.
      </Box>
    );
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 12.5 }} data-speech-seconds={seconds}>
      <span>
        Speech: {clock(seconds)} in {count(clips, 'clip')}
        {untold.length > 0 && `; of ${count(untold.length, 'source')} the whole clip counts`}
      </span>
      {untold.length > 0 && (
        <Button variant="outlined" onClick={() => void session.speech.find(untold)}>
          Find speech in {untold.length === 1 ? 'it' : 'them'}
        </Button>
      )}
    </Box>
  );
}
