'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { useMemo, useState, type ReactNode } from 'react';
import { count } from '@/core/text/words';
import { useProject, useSession } from '../../session/SessionContext';
import { OneOf } from '../../ui/OneOf';
import { useRemembered } from '../../ui/useRemembered';
import {
  cannotTell,
  copyTable,
  EDIT_FORMS,
  FORM_NAMES,
  listRate,
  saveList,
  saveMarkers,
  saveTable,
  saveTimeline,
  type CueForm,
  type EditForm,
} from './editForms';
import { MediaForEdit } from './MediaForEdit';
import { Said } from './Said';

function SaveButton({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <Button variant="contained" startIcon={<SaveIcon />} onClick={onClick} sx={{ alignSelf: 'flex-start' }}>
      {children}
    </Button>
  );
}

const CUE_FORMS: readonly CueForm[] = ['csv', 'vtt', 'otio'];
const CUE_NAMES: Readonly<Record<CueForm, string>> = {
  csv: 'Table (CSV)',
  vtt: 'Cues (WebVTT)',
  otio: 'Timeline (OTIO)',
};

function Markers() {
  const session = useSession();
  const { markers } = useProject();
  const [form, setForm] = useRemembered<CueForm>('markers saved as', 'csv');
  const [findings, setFindings] = useRemembered('markers with findings', true);
  const [busy, setBusy] = useState(false);
  return (
    <>
      <Box>
        {markers.length === 0
          ? 'There are no markers in this programme.'
          : `${count(markers.length, 'marker')}, each with its place and name.`}
      </Box>
      <OneOf
        label="Saved as"
        of={CUE_FORMS}
        value={form}
        words={(each) => CUE_NAMES[each]}
        onSelect={setForm}
      />
      <FormControlLabel
        control={<Checkbox size="small" checked={findings} onChange={(_, on) => setFindings(on)} />}
        label="With what Check finds, and why it may stay"
        disableTypography
      />
      <Button
        variant="contained"
        startIcon={<SaveIcon />}
        disabled={busy || (markers.length === 0 && !findings)}
        onClick={() => {
          setBusy(true);
          void saveMarkers(session, form, findings).finally(() => setBusy(false));
        }}
        sx={{ alignSelf: 'flex-start' }}
      >
        {busy ? 'Looking through the programme …' : 'Save markers'}
      </Button>
    </>
  );
}

function Words({ form }: { form: 'timeline' | 'list' | 'table' }) {
  const session = useSession();
  const project = useProject();
  const cannot = useMemo(() => cannotTell(project, form), [project, form]);
  const rate = listRate(project);
  if (form === 'table')
    return (
      <>
        <Box>
          Every clip with its track, its place, its gains and why each is as it is:{' '}
          {count(project.clips.length, 'row')}.
        </Box>
        <Box sx={{ display: 'flex', gap: 1 }}>
          <SaveButton onClick={() => saveTable(session)}>Save table (CSV)</SaveButton>
          <Button variant="outlined" onClick={() => void copyTable(session)}>
            Copy table
          </Button>
        </Box>
      </>
    );
  return (
    <>
      <Box>
        {form === 'timeline'
          ? 'OpenTimelineIO: every clip with its total gain and its fades, markers, and everything the timeline that was brought in contained.'
          : `CMX 3600: every clip as an event, fades and crossfades as dissolves, gains as notes, at ${rate.name} frames a second${project.time.frameRateId === null ? ' (the project says none: set it under Settings)' : ''}.`}
      </Box>
      <Said sentences={cannot} none="It tells all there is on this programme." />
      {form === 'timeline' ? (
        <SaveButton onClick={() => saveTimeline(session)}>Export timeline</SaveButton>
      ) : (
        <SaveButton onClick={() => saveList(session)}>Save edit list</SaveButton>
      )}
    </>
  );
}

/** The way back to the edit: what it is told in, what that cannot tell, and the file. */
export function EditPanel() {
  const { clips } = useProject();
  const [form, setForm] = useRemembered<EditForm>('back to the edit as', 'timeline');
  return (
    <Box
      component="section"
      aria-label="Back to the edit"
      sx={{ p: 1.5, display: 'flex', flexDirection: 'column', gap: 1.25, fontSize: 13 }}
    >
      <Typography variant="h2">Back to the edit</Typography>
      <OneOf
        label="Back to the edit as"
        of={EDIT_FORMS}
        value={form}
        words={(each) => FORM_NAMES[each]}
        onSelect={setForm}
      />
      {clips.length === 0 ? (
        <Box sx={{ color: 'text.secondary' }}>
          There is nothing to tell yet: place clips in Programme first.
        </Box>
      ) : form === 'media' ? (
        <MediaForEdit />
      ) : form === 'markers' ? (
        <Markers />
      ) : (
        <Words form={form} />
      )}
    </Box>
  );
}
