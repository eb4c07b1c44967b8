'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import type { WriteFormat } from '@/core/audio/pcm';
import { programmeLayout } from '@/core/audio/layout';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { damagedSources } from '@/core/programme/damagedSources';
import { programmeFrames, type Project } from '@/core/programme/model';
import { verdictOf } from '@/core/check/verdict';
import { byteSize, clock } from '@/core/text/figures';
import { CompareFigures } from '../ui/CompareFigures';
import { FailureNote } from '../ui/FailureNote';
import { FormatChoice } from '../ui/FormatChoice';
import { ProgressLine } from '../ui/ProgressLine';
import { count } from '@/core/text/words';
import { WrongFile } from '../ui/WrongFile';
import { canRender, exportTimeline, renderProgramme, saveRendered } from './handoverActions';
import type { HandedOver } from '../session/handover';
import { useLeftOut, useProject, useSession, useSessionState } from '../session/SessionContext';
import { VerdictView } from '../shell/VerdictView';

/** Sources of a programme that are damaged: its figures rest on them. */
function Damaged({ project }: { project: Project }) {
  const damaged = useMemo(() => damagedSources(project), [project]);
  if (damaged.length === 0) return null;
  return (
    <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
      The figures rest on damaged files:{' '}
      {damaged.map(({ name, warnings }) => `${name}: ${warnings.join(' ')}`).join(' ')}
    </Alert>
  );
}

function Result({ result }: { result: HandedOver }) {
  const session = useSession();
  const project = useProject();
  const { target } = result.project;
  const programme = useMemo(() => verdictOf(result.programme, target), [result.programme, target]);
  const file = useMemo(() => verdictOf(result.file, target), [result.file, target]);
  const changed = project !== result.project;
  const disagrees = disagreement(result.programme, result.file);
  const clipped = clippedNote(result.clippedSamples);
  const wrong = disagrees === null ? [] : [clipped, disagrees].filter((sentence) => sentence !== null);
  return (
    <Box
      component="section"
      aria-label="The finished file"
      sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
        <Typography variant="h2">{result.fileName}</Typography>
        <Box sx={{ color: 'text.secondary' }}>{byteSize(result.blob.size)}</Box>
        <Button
          variant={wrong.length > 0 ? 'outlined' : 'contained'}
          startIcon={<SaveIcon />}
          onClick={() => saveRendered(session)}
        >
          {wrong.length > 0 ? 'Save anyway' : 'Save file'}
        </Button>
      </Box>
      <WrongFile
        wrong={wrong}
        hint={
          clipped
            ? 'Lower the programme, or select float.'
            : 'Render it again; if it happens again, report it.'
        }
      />
      {changed && (
        <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
          The programme has changed since this file was rendered. Render it again to hand over what is there
          now.
        </Alert>
      )}
      {clipped && wrong.length === 0 && (
        <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
          {clipped} Lower the programme, or select float.
        </Alert>
      )}
      <Damaged project={result.project} />
      <Box sx={{ border: 1, borderColor: 'divider', borderRadius: 1, bgcolor: 'background.paper' }}>
        <VerdictView
          verdict={programme}
          of="the programme, as measured"
          before={<Box sx={{ width: 92, fontWeight: 600 }}>Programme</Box>}
        />
        <Box sx={{ borderTop: 1, borderColor: 'divider' }} data-file-verdict>
          <VerdictView
            verdict={file}
            of="the file, read back"
            before={<Box sx={{ width: 92, fontWeight: 600 }}>File</Box>}
          />
        </Box>
      </Box>
      <Box>
        <CompareFigures a={result.programme} b={result.file} aTitle="Programme" bTitle="File" />
      </Box>
    </Box>
  );
}

/** The programme becomes a file, and the file is measured. */
export function HandoverStage() {
  const session = useSession();
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring);
  const { phase, done, result, failure, format } = useStore(session.handover.store);
  const setFormat = (next: WriteFormat): void => session.handover.store.setState({ format: next });
  const frames = programmeFrames(project);
  const layout = programmeLayout(project.layoutId);
  const busy = phase !== 'idle';
  const waiting = measuring !== null || programme === null;
  const lost = useLeftOut();
  const muted = project.tracks.filter(
    (track) => track.muted && project.clips.some((clip) => clip.trackId === track.id),
  );
  const bytes = frames * layout.labels.length * (format === 's24' ? 3 : 4);
  return (
    <Box sx={{ flex: 1, overflow: 'auto', p: 2.5, display: 'flex', flexDirection: 'column', gap: 2 }}>
      <Box>
        <Typography variant="h1">Hand over the programme</Typography>
        <Box sx={{ color: 'text.secondary', mt: 0.5 }}>
          {frames === 0
            ? 'There is nothing to render yet: place clips in Programme first.'
            : `${clock(frames / project.sampleRate)}, ${layout.name}, ${project.sampleRate.toLocaleString('en')} Hz, about ${byteSize(bytes)}`}
        </Box>
      </Box>
      {frames > 0 && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, order: 1 }}>
          <Button variant="outlined" startIcon={<SaveIcon />} onClick={() => exportTimeline(session)}>
            Export timeline
          </Button>
          <Box sx={{ color: 'text.secondary', fontSize: 12.5, maxWidth: 560 }}>
            For the edit system, as OpenTimelineIO: every clip with its total gain and its fades, and
            everything the imported timeline contained.
          </Box>
        </Box>
      )}
      {lost.clips.length > 0 && (
        <FailureNote
          message={`${count(lost.clips.length, 'clip')} would be left out: the sound of ${lost.sources.join(', ')} is not there.`}
          hint="Relink the files in Sources, or mute or remove the clips, before handing over."
        />
      )}
      {muted.length > 0 && (
        <Alert severity="info" variant="outlined" sx={{ py: 0 }} data-muted>
          Muted, and so not in the file: {muted.map(({ name }) => name).join(', ')}.
        </Alert>
      )}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
        <FormatChoice value={format} onChange={setFormat} disabled={busy} />
        <Button variant="contained" onClick={() => renderProgramme(session)} disabled={!canRender(session)}>
          {waiting && frames > 0 ? 'Waiting for the measurement …' : 'Render and measure'}
        </Button>
      </Box>
      {busy && (
        <ProgressLine
          label={phase === 'rendering' ? 'Rendering the file' : 'Measuring the file'}
          done={done}
          onCancel={() => session.handover.cancel()}
        />
      )}
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {result ? (
        <Result result={result} />
      ) : (
        !busy && (
          <Box sx={{ color: 'text.secondary', maxWidth: 560 }}>
            The finished file is read back from its first to its last sample and measured by itself. Its
            verdict then stands here, beside the programme’s.
          </Box>
        )
      )}
    </Box>
  );
}
