'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import PlayIcon from '@mui/icons-material/PlayArrow';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { FINDING_NAMES } from '@/core/check/findings/finding';
import { THRESHOLD_FIELDS } from '@/core/check/findings/thresholds';
import { sourceOf } from '@/core/check/target';
import { acceptFinding, unacceptFinding } from '@/core/programme/edits/check';
import type { Project } from '@/core/programme/model';
import { withFixes, type FixRow } from '@/core/proposals/fixes/fixProposal';
import { placeText } from '@/core/programme/timeText';
import { signed, withUnit } from '@/core/text/figures';
import { useSession } from '../session/SessionContext';
import { LevelMark } from '../ui/LevelMark';
import { sizeWords } from './findingColumns';

/** Heard before a place, seconds. */
const LEAD_SECONDS = 1.5;
const MOST_NOTE = 300;

/** The threshold by which each kind is found, where it has one. */
const THRESHOLD_OF: Readonly<Record<string, string>> = {
  clipped: 'clippedSamples',
  silence: 'silenceSeconds',
  head: 'edgeSeconds',
  tail: 'edgeSeconds',
  click: 'clickOverDb',
  dc: 'dcDbfs',
  phase: 'correlation',
  channel: 'sideDb',
  dialogue: 'dialogueLu',
  jump: 'jumpLu',
  drift: 'driftLu',
};

const FIELD_OF: Readonly<Record<string, string>> = {
  truePeak: 'maxTruePeakDbtp',
  momentary: 'maxMomentaryLufs',
  shortTerm: 'maxShortTermLufs',
  integrated: 'integratedLufs',
  range: 'maxLoudnessRangeLu',
};

/** Where the limit comes from. */
function limitSource({ target }: Project, { finding: { kind, weight } }: FixRow): string {
  if (weight === 'breaks') return sourceOf(target, FIELD_OF[kind] ?? '');
  return THRESHOLD_FIELDS.find(({ key }) => key === THRESHOLD_OF[kind])?.source ?? 'common practice';
}

/** Has a finding stay as it is, with a word why. */
function AcceptBox({ row }: { row: FixRow }) {
  const session = useSession();
  const { finding, accepted } = row;
  const name = `${FINDING_NAMES[finding.kind].toLowerCase()}`;
  const [note, setNote] = useState('');
  if (accepted)
    return (
      <Box data-accepted-note sx={{ display: 'flex', flexDirection: 'column', gap: 0.5 }}>
        <Box>Accepted{accepted.note === '' ? '.' : `: “${accepted.note}”`}</Box>
        <Button
          variant="outlined"
          color="inherit"
          onClick={() =>
            session.do(`No longer accept: ${name}`, (project) => unacceptFinding(project, finding.id))
          }
        >
          No longer accept
        </Button>
      </Box>
    );
  const tooLong = note.length > MOST_NOTE;
  const accept = (): void => {
    if (tooLong) return;
    session.do(`Accept: ${name}`, (project) => acceptFinding(project, finding, note.trim()));
    setNote('');
  };
  return (
    <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'start' }}>
      <TextField
        label="Why it may stay"
        value={note}
        onChange={(event) => setNote(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') accept();
        }}
        error={tooLong}
        helperText={tooLong ? `At most ${MOST_NOTE} letters` : undefined}
        sx={{ flex: 1 }}
      />
      <Button variant="outlined" color="inherit" onClick={accept} sx={{ height: 36 }}>
        Accept it
      </Button>
    </Box>
  );
}

/** One finding: what is there, by which limit, and the change that mends it, seen and heard before it is applied. */
export function FindingPanel({ row, project }: { row: FixRow; project: Project }) {
  const session = useSession();
  const { finding, mend, accepted } = row;
  const { from, to, whole, kind, weight } = finding;
  const fix = mend && 'fix' in mend ? mend.fix : null;
  const [previewing, setPreviewing] = useState(false);
  useEffect(() => {
    if (!previewing || !fix) return;
    session.setPreview(withFixes(session.project, [fix]));
    return () => session.setPreview(null);
  }, [session, previewing, fix]);
  const place = (seconds: number): string => placeText(project, Math.round(seconds * project.sampleRate), 1);
  const hear = (): void => {
    if (session.state.playing) session.listening.stop();
    session.listening.seek(Math.max(0, from - LEAD_SECONDS) * project.sampleRate);
    void session.listening.play();
  };
  const apply = (): void => {
    if (!fix) return;
    setPreviewing(false);
    session.do(`Mend: ${fix.what}`, (current) => withFixes(current, [fix]));
  };
  return (
    <Box
      component="section"
      aria-label="The finding"
      sx={{ display: 'flex', flexDirection: 'column', gap: 1.25, p: 1.5, fontSize: 13 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
        <LevelMark standing={weight === 'breaks' ? 'over' : 'unknown'} size={11} />
        <Typography variant="h2">{FINDING_NAMES[kind]}</Typography>
        <Box sx={{ ml: 'auto', color: 'text.secondary', fontSize: 12 }}>
          {whole ? 'all of it' : to - from >= 0.05 ? `${place(from)} – ${place(to)}` : place(from)}
        </Box>
      </Box>
      <Box>{finding.sentence}</Box>
      {finding.limit !== null && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {weight === 'breaks' ? 'Limit' : 'Worth a look from'} {sizeWords(finding.limit, finding.unit)} (
          {limitSource(project, row)})
        </Box>
      )}
      {!whole && (
        <Button variant="outlined" color="inherit" startIcon={<PlayIcon />} onClick={hear}>
          Hear the place
        </Button>
      )}
      <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 1.25 }}>
        <Box sx={{ fontWeight: 600, mb: 0.5 }}>Smallest fix</Box>
        {!mend && <Box sx={{ color: 'text.secondary' }}>Being worked out …</Box>}
        {mend && 'remedy' in mend && <Box data-remedy>{mend.remedy}</Box>}
        {fix && (
          <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1 }} data-fix={fix.change.kind}>
            <Box>{fix.sentence}</Box>
            <Box
              component="dl"
              sx={{
                ...{
                  m: 0,
                  display: 'grid',
                  gridTemplateColumns: '1fr auto auto',
                  columnGap: 1.5,
                  fontSize: 12,
                },
                '& dd': { m: 0, textAlign: 'right' },
              }}
            >
              <dt>{whole ? FINDING_NAMES[kind] : 'At the place'}</dt>
              <dd>{sizeWords(fix.before, finding.unit)}</dd>
              <dd>→ {sizeWords(fix.after, finding.unit)}</dd>
              <dt>Programme</dt>
              <dd>{signed(fix.changeLu, 2)} LU</dd>
              <dd>→ {withUnit(fix.integratedLufs, 'LUFS')}</dd>
              <dt>Its true peak</dt>
              <dd />
              <dd>→ {withUnit(fix.truePeakDbtp, 'dBTP')}</dd>
            </Box>
            {!fix.mends && <Box sx={{ color: 'warning.main' }}>It is less then, but not gone.</Box>}
            {!accepted && (
              <Box sx={{ display: 'flex', gap: 0.75 }}>
                <ToggleButton
                  value="preview"
                  size="small"
                  selected={previewing}
                  onChange={() => setPreviewing(!previewing)}
                  sx={{ textTransform: 'none', height: 36, gap: 0.5 }}
                >
                  <HearIcon fontSize="small" /> Preview
                </ToggleButton>
                <Button variant="contained" onClick={apply} sx={{ flex: 1 }}>
                  Apply this fix
                </Button>
              </Box>
            )}
          </Box>
        )}
      </Box>
      <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 1.25 }}>
        <AcceptBox key={finding.id} row={row} />
      </Box>
    </Box>
  );
}
