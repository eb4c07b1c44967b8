'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState } from 'react';
import { speechRules, type Verdict } from '@/core/check/verdict';
import type { Target } from '@/core/check/target';
import { signed } from '@/core/text/figures';
import type { Failure } from '@/engine/protocol';
import { CompareFigures } from '../ui/CompareFigures';
import { FailureNote } from '../ui/FailureNote';
import { LevelMark } from '../ui/LevelMark';
import { ProgressLine } from '../ui/ProgressLine';
import { saveBlob } from '../ui/saveBlob';
import { WrongFile } from '../ui/WrongFile';
import { VerdictView } from '../shell/VerdictView';
import type { Audit } from './audit';
import type { AuditFile } from './auditFile';
import type { MendedFile } from './mended';
import type { CorrectionWay } from '@/core/proposals/correction';

function MendedResult({ entry, mended }: { entry: AuditFile; mended: MendedFile }) {
  return (
    <Box
      component="section"
      aria-label="The corrected file"
      sx={{ borderTop: 1, borderColor: 'divider', bgcolor: 'background.paper' }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, px: 2, pt: 1 }}>
        <Typography variant="h2">{mended.name}</Typography>
        {mended.blob ? (
          <Button
            variant={mended.wrong.length > 0 ? 'outlined' : 'contained'}
            startIcon={<SaveIcon />}
            onClick={() => {
              saveBlob(mended.blob!, mended.name);
            }}
          >
            {mended.wrong.length > 0 ? 'Save anyway' : 'Save file'}
          </Button>
        ) : (
          <Box sx={{ color: 'text.secondary' }}>Saved.</Box>
        )}
        <Box sx={{ flex: 1, fontSize: 12.5, color: 'text.secondary' }}>{mended.sentence}</Box>
      </Box>
      <WrongFile wrong={mended.wrong} hint="Lower the target, or report this." />
      <VerdictView verdict={mended.verdict} of="the corrected file, read back" />
      <Box sx={{ px: 2, pb: 1 }}>
        <CompareFigures a={entry.checked!.judged} b={mended.figures} aTitle="As it was" bTitle="Mended" />
      </Box>
    </Box>
  );
}

/** A file’s verdict, what is to be done with it, and the corrected file once it is done. */
export function FileAdvice({
  audit,
  entry,
  target,
  verdict,
}: {
  audit: Audit;
  entry: AuditFile;
  target: Target;
  verdict: Verdict;
}) {
  const [work, setWork] = useState<{ readonly label: string; readonly done: number } | null>(null);
  const [failure, setFailure] = useState<Failure | null>(null);
  const [left, setLeft] = useState<string | null>(null);
  const controller = useRef<AbortController | null>(null);
  useEffect(() => () => controller.current?.abort(), []);
  const { checked, mended } = entry;
  if (!checked) return null;
  const { mend, judged } = checked;
  const start = async (way: CorrectionWay): Promise<void> => {
    const own = new AbortController();
    controller.current = own;
    setFailure(null);
    setLeft(null);
    setWork({ label: 'Reading', done: 0 });
    const outcome = await audit.mend(entry.id, way, own.signal, (label, done) => setWork({ label, done }));
    if (controller.current !== own) return;
    setWork(null);
    if ('failure' in outcome) setFailure(outcome.failure);
    if ('left' in outcome) setLeft(outcome.left);
  };
  const canLimit = mend.kind === 'cannot' && !speechRules(target, judged.spoken);
  const advice = (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flex: 1, minWidth: 320 }} data-mend={mend.kind}>
      <LevelMark
        standing={mend.kind === 'cannot' ? 'over' : mend.kind === 'nothing' ? 'unknown' : 'within'}
      />
      <Box sx={{ flex: 1, fontSize: 13 }}>{left ?? mend.sentence}</Box>
      {work ? (
        <ProgressLine label={work.label} done={work.done} onCancel={() => controller.current?.abort()} />
      ) : (
        <>
          {canLimit && (
            <Button variant="contained" onClick={() => void start('limiter')} sx={{ flex: 'none' }}>
              Mend with a limiter
            </Button>
          )}
          {(mend.kind === 'gain' || (mend.kind === 'cannot' && mend.gainDb !== 0)) && (
            <Button
              variant={mend.kind === 'gain' ? 'contained' : 'outlined'}
              onClick={() => void start(mend.kind === 'gain' ? 'gain' : 'possible')}
              sx={{ flex: 'none' }}
            >
              {mend.kind === 'gain' ? 'Correct it' : 'Apply the possible gain'}: {signed(mend.gainDb, 2)} dB
            </Button>
          )}
        </>
      )}
    </Box>
  );
  return (
    <>
      <VerdictView verdict={verdict} of={`the whole file, by ${target.name}`} after={advice} />
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {mended && <MendedResult entry={entry} mended={mended} />}
    </>
  );
}
