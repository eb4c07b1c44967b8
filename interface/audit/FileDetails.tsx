'use client';

import PlayIcon from '@mui/icons-material/PlayArrow';
import StopIcon from '@mui/icons-material/Stop';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { DECLARABLE } from '@/core/audio/layout';
import type { Target } from '@/core/check/target';
import { verdictOf } from '@/core/check/verdict';
import { byteSize, clock } from '@/core/text/figures';
import { toFailure } from '@/engine/failure';
import type { CheckedSound, Failure } from '@/engine/protocol';
import { FigureList } from '../check/FigureList';
import { ListenerFace, type HearingAs } from '../check/ListenerFace';
import type { Looked } from '../check/looked';
import { OverTimeFace } from '../check/overTime/OverTimeFace';
import type { ChartData } from '../check/overTime/panels';
import { TargetMatrix } from '../check/TargetMatrix';
import { OneOf } from '../ui/OneOf';
import { FailureNote } from '../ui/FailureNote';
import { DATA_FORM, readForms, ReportForms } from '../ui/ReportForms';
import { Resizable } from '../ui/Resizable';
import { useRemembered } from '../ui/useRemembered';
import type { Audit } from './audit';
import type { AuditFile } from './auditFile';
import { FileAdvice } from './FileAdvice';
import { FileFindings } from './FileFindings';
import { reportOnFile } from './reportOnFile';
import { SpeechMenu } from './SpeechMenu';
import { useFilePlayer } from './useFilePlayer';

const FACES = ['findings', 'targets', 'overTime', 'listener'] as const;
type Face = (typeof FACES)[number];
const FACE_NAMES: Readonly<Record<Face, string>> = {
  findings: 'Findings',
  targets: 'Targets',
  overTime: 'Over time',
  listener: 'Listener',
};

const REPORT_FORMS = [...readForms('findings'), DATA_FORM];

/** All that is found in a file, kept up to date with what it is held against. */
function useDetails(audit: Audit, { id, turn }: AuditFile) {
  const [found, setFound] = useState<{ id: string; sound: CheckedSound | null; failure: Failure | null }>();
  useEffect(() => {
    const controller = new AbortController();
    void audit.details(id, controller.signal).then((outcome) => {
      if (controller.signal.aborted || 'cancelled' in outcome) return;
      setFound({
        id,
        sound: 'ok' in outcome ? outcome.ok : null,
        failure: 'failure' in outcome ? outcome.failure : null,
      });
    });
    return () => controller.abort();
  }, [audit, id, turn]);
  return found?.id === id ? found : null;
}

function Head({
  entry,
  looked,
  onStop,
  trouble,
  children,
}: {
  entry: AuditFile;
  looked: Looked;
  onStop: () => void;
  trouble: string | null;
  children: ReactNode;
}) {
  const { file, checked } = entry;
  return (
    <>
      <Box
        role="toolbar"
        aria-label="The file"
        sx={{
          ...{ display: 'flex', alignItems: 'center', gap: 1, px: 1.5, minHeight: 44, flex: 'none' },
          whiteSpace: 'nowrap',
        }}
      >
        <Button
          variant="contained"
          startIcon={looked.playing ? <StopIcon /> : <PlayIcon />}
          onClick={() => (looked.playing ? onStop() : looked.play(looked.now))}
          sx={{ minWidth: 84 }}
        >
          {looked.playing ? 'Stop' : 'Play'}
        </Button>
        {children}
        <Box sx={{ minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}>
          <b>{file.name}</b>{' '}
          <Box component="span" sx={{ color: 'text.secondary', fontSize: 12 }}>
            {checked &&
              `${clock(checked.judged.form!.seconds)}, ${checked.format.layout.name}, ${checked.format.sampleRate.toLocaleString('en')} Hz, ${checked.format.codec}, ${byteSize(file.size)}`}
          </Box>
        </Box>
      </Box>
      {trouble && (
        <Box role="alert" sx={{ px: 2, pb: 0.5, fontSize: 12.5, color: 'warning.main' }}>
          {trouble}
        </Box>
      )}
      {checked?.format.warnings.map((warning) => (
        <Box key={warning} sx={{ px: 2, pb: 0.5, fontSize: 12.5, color: 'warning.main' }}>
          {warning}
        </Box>
      ))}
    </>
  );
}

/** What the channels of a file are, where it does not say it, or somebody has declared it. */
function LayoutChoice({ audit, entry }: { audit: Audit; entry: AuditFile }) {
  const { checked, layoutId } = entry;
  const assumed = checked?.format.integrity.some(({ kind }) => kind === 'layoutAssumed') ?? false;
  const channels = checked?.format.layout.labels.length ?? 0;
  const fitting = DECLARABLE.filter(({ labels }) => labels.length === channels);
  if ((!assumed && layoutId === null) || fitting.length === 0) return null;
  return (
    <TextField
      select
      label="Channel layout"
      value={layoutId ?? ''}
      error={assumed}
      onChange={(event) => audit.again(entry.id, { layoutId: event.target.value })}
      sx={{ minWidth: 140 }}
    >
      {fitting.map(({ id, name, labels }) => (
        <MenuItem key={id} value={id} dense>
          {name} ({labels.join(' ')})
        </MenuItem>
      ))}
    </TextField>
  );
}

/** One file in full: verdict, what mends it, findings, figures, course over time, what a listener gets. */
export function FileDetails({
  audit,
  entry,
  targets,
  onProject,
}: {
  audit: Audit;
  entry: AuditFile;
  /** The leading one first. */
  targets: readonly Target[];
  /** Opens it in a project. */
  onProject: (entry: AuditFile) => void;
}) {
  const [face, setFace] = useRemembered<Face>('audit face', 'findings');
  const [sideWidth, setSideWidth] = useRemembered('audit side width', 330);
  const { player, state, looked } = useFilePlayer(entry.file, entry.file.name);
  const [serviceId, setServiceId] = useState<string | null>(null);
  const [unwritten, setUnwritten] = useState<Failure | null>(null);
  const details = useDetails(audit, entry);
  const { id, turn, work } = entry;
  useEffect(() => {
    if (work === null) audit.findExact(id);
  }, [audit, id, turn, work]);
  const [target] = targets;
  const { checked } = entry;
  const sound = details?.sound ?? null;
  const verdict = useMemo(() => checked && verdictOf(checked.judged, target!), [checked, target]);
  const labels = checked?.format.layout.labels;
  const data = useMemo(
    (): ChartData | null =>
      sound && labels
        ? {
            ...{ programme: sound.levels, overTime: sound.overTime, target: target! },
            ...{ channels: labels, reductions: [] },
          }
        : null,
    [sound, labels, target],
  );
  const hearing = useMemo(
    (): HearingAs => ({
      serviceId,
      hear: (played) => {
        player.setGain(played?.gainDb ?? 0);
        setServiceId(played?.serviceId ?? null);
        if (played && !player.store.getState().playing) void player.play(player.position());
      },
      stop: () => player.setGain(0),
      cannot: ({ limitedDb }) =>
        limitedDb > 0 ? 'To hear a limiter at work, open the file in a project.' : null,
    }),
    [player, serviceId],
  );
  if (!checked || !verdict)
    return (
      <Box sx={{ p: 2, color: 'text.secondary' }}>
        {entry.failure ? (
          <FailureNote
            message={`${entry.file.name}: ${entry.failure.message}`}
            hint={entry.failure.hint}
            action={
              <Button color="inherit" onClick={() => audit.again(entry.id)}>
                Try again
              </Button>
            }
          />
        ) : entry.cancelled ? (
          <Button variant="outlined" onClick={() => audit.again(entry.id)}>
            Measure {entry.file.name}
          </Button>
        ) : (
          `${entry.file.name} is being measured …`
        )}
      </Box>
    );
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Head entry={entry} looked={looked} onStop={() => player.stop()} trouble={state.trouble}>
        <OneOf
          label="Face of the file"
          of={FACES}
          value={face}
          words={(each) => FACE_NAMES[each]}
          onSelect={setFace}
        />
        {entry.sounds.length > 0 && (
          <TextField
            select
            label="Sound"
            value={entry.track}
            onChange={(event) => audit.again(entry.id, { track: Number(event.target.value) })}
            sx={{ minWidth: 120 }}
          >
            {entry.sounds.map(({ index, label }) => (
              <MenuItem key={index} value={index} dense>
                {index + 1}: {label}
              </MenuItem>
            ))}
          </TextField>
        )}
        <LayoutChoice audit={audit} entry={entry} />
        <SpeechMenu audit={audit} entry={entry} now={looked.now} onGo={looked.play} />
        <ReportForms
          label="Report on this file…"
          forms={REPORT_FORMS}
          on={entry.file.name}
          disabled={sound === null || work !== null}
          make={() => {
            setUnwritten(null);
            return reportOnFile(audit, entry.id);
          }}
          onFailure={(error) => setUnwritten(toFailure(error))}
        />
        <Button
          variant="outlined"
          color="inherit"
          onClick={() => onProject(entry)}
          sx={{ borderColor: 'divider' }}
        >
          Open in a project
        </Button>
      </Head>
      <Box
        component="section"
        aria-label="Verdict on the file"
        sx={{ bgcolor: 'background.paper', flex: 'none' }}
      >
        <FileAdvice
          key={`${entry.id} ${target!.id}`}
          audit={audit}
          entry={entry}
          target={target!}
          verdict={verdict}
        />
      </Box>
      {unwritten && (
        <FailureNote
          message={`The report was not written: ${unwritten.message}`}
          hint={unwritten.hint}
          action={
            <Button color="inherit" onClick={() => setUnwritten(null)}>
              Discard
            </Button>
          }
        />
      )}
      {details?.failure && <FailureNote message={details.failure.message} hint={details.failure.hint} />}
      <Resizable
        side="right"
        label="the figures"
        size={sideWidth}
        least={250}
        leastMain={460}
        onSize={setSideWidth}
        main={
          sound && (
            <>
              {face === 'findings' && (
                <FileFindings
                  findings={sound.check.findings}
                  mends={sound.mends}
                  lead={sound.check.verdicts[0]!.target.id}
                  looked={looked}
                />
              )}
              {face === 'targets' && (
                <TargetMatrix
                  targets={targets}
                  judged={sound.check.judged}
                  leftOut={0}
                  whole
                  change={(_, edit) => audit.checkBy(edit)}
                />
              )}
              {face === 'overTime' && data && <OverTimeFace data={data} looked={looked} />}
              {face === 'listener' && <ListenerFace judged={sound.check.judged} hearing={hearing} />}
            </>
          )
        }
      >
        <Box
          sx={{
            overflow: 'auto',
            flex: 1,
            bgcolor: 'background.paper',
            borderLeft: 1,
            borderColor: 'divider',
          }}
          tabIndex={0}
          role="region"
          aria-label="Figures of the file"
        >
          {sound && (
            <FigureList
              looked={looked}
              target={target!}
              judged={sound.check.judged}
              details={sound.details}
              levels={sound.levels}
            />
          )}
        </Box>
      </Resizable>
    </Box>
  );
}
