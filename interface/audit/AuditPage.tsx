'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { exactPeakToShow } from '@/core/proposals/exactPeak';
import { mendOf } from '@/core/proposals/fileGain';
import { EBU_R128 } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { verdictOf } from '@/core/check/verdict';
import { byteSize, clock, figure, signed, withUnit } from '@/core/text/figures';
import { CompareFigures } from '../ui/CompareFigures';
import { DropArea } from '../ui/DropArea';
import { FailureNote } from '../ui/FailureNote';
import { LevelMark } from '../ui/LevelMark';
import { PickFiles } from '../ui/PickFiles';
import { ProgressLine } from '../ui/ProgressLine';
import { fileName, saveBlob } from '../ui/saveBlob';
import { WaveCanvas } from '../ui/WaveCanvas';
import { WrongFile } from '../ui/WrongFile';
import { VerdictView } from '../shell/VerdictView';
import { TargetMenu } from '../targets/TargetMenu';
import { useAudit, type Audited, type Mended } from './useAudit';
import { useExactWhereNear } from './useExactWhereNear';

const panel = { border: 1, borderColor: 'divider', borderRadius: 1, bgcolor: 'background.paper' } as const;

function About({
  audited: { file, measurement },
  target,
  exact,
}: {
  audited: Audited;
  target: Target;
  /** The exact true peak where it is known, dBTP. */
  exact: number | null;
}) {
  const { format, figures, overview } = measurement;
  const exactShown = exactPeakToShow(figures.truePeakDbtp, exact);
  return (
    <Box sx={{ ...panel, p: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', mb: 1 }}>
        <Typography variant="h2">{file.name}</Typography>
        <Box sx={{ color: 'text.secondary' }}>
          {clock(format.frames / format.sampleRate)}, {format.layout.name},{' '}
          {format.sampleRate.toLocaleString('en')} Hz, {format.codec}, {byteSize(file.size)}
        </Box>
      </Box>
      <WaveCanvas
        overview={overview}
        truePeaks={measurement.truePeaks}
        sampleRate={format.sampleRate}
        frames={format.frames}
        height={72}
        limitDbtp={target.maxTruePeakDbtp}
        label={`Waveform of ${file.name}; marks on its upper edge are samples at full scale and true peaks over ${withUnit(target.maxTruePeakDbtp, 'dBTP')}`}
      />
      <Box
        sx={{
          display: 'flex',
          flexWrap: 'wrap',
          columnGap: 2.5,
          mt: 1,
          fontSize: 12.5,
          color: 'text.secondary',
        }}
      >
        <span>Max short-term {figure(figures.maxShortTermLufs)} LUFS</span>
        <span>Max momentary {figure(figures.maxMomentaryLufs)} LUFS</span>
        <span>Loudness range {figure(figures.loudnessRangeLu)} LU</span>
        {exactShown !== null && <span>Exact true peak {figure(exactShown)} dBTP</span>}
        {figures.channelPeaks.map(({ label, truePeakDbtp }, index) => (
          <span key={index}>
            {label} {figure(truePeakDbtp)} dBTP
          </span>
        ))}
      </Box>
      {format.warnings.map((warning) => (
        <Box key={warning} sx={{ color: 'warning.main', mt: 0.5 }}>
          {warning}
        </Box>
      ))}
    </Box>
  );
}

function MendedFile({ audited, mended, target }: { audited: Audited; mended: Mended; target: Target }) {
  const verdict = useMemo(() => verdictOf(mended.figures, target), [mended, target]);
  const name = `${fileName(audited.file.name.replace(/\.[^.]+$/, ''))} ${signed(mended.gainDb, 2)} dB.wav`;
  return (
    <Box
      component="section"
      aria-label="The corrected file"
      sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
        <Typography variant="h2">{name}</Typography>
        <Button
          variant={mended.wrong.length > 0 ? 'outlined' : 'contained'}
          startIcon={<SaveIcon />}
          onClick={() => saveBlob(mended.blob, name)}
        >
          {mended.wrong.length > 0 ? 'Save anyway' : 'Save file'}
        </Button>
      </Box>
      <WrongFile wrong={mended.wrong} hint="Lower the target, or report this." />
      <Box sx={panel}>
        <VerdictView verdict={verdict} of="the corrected file, read back" />
      </Box>
      <Box>
        <CompareFigures
          a={audited.measurement.figures}
          b={mended.figures}
          aTitle="As it was"
          bTitle="Mended"
        />
      </Box>
    </Box>
  );
}

/** One finished file against a target: the verdict, and the one gain that mends it. */
export function AuditPage() {
  const { audited, mended, failure, work, measure, mend, cancel } = useAudit();
  const [target, setTarget] = useState<Target>(EBU_R128);
  const verdict = useMemo(() => audited && verdictOf(audited.measurement.figures, target), [audited, target]);
  const exact = useExactWhereNear(audited, target);
  const advice = useMemo(
    () => audited && mendOf(audited.measurement, target, exact),
    [audited, target, exact],
  );
  const [extra, setExtra] = useState(0);
  const take = ([first, ...others]: File[]): void => {
    setExtra(others.length);
    if (first) void measure(first);
  };
  const writeFormat = (audited?.measurement.format.bitDepth ?? 24) > 24 ? 'f32' : 's24';
  return (
    <DropArea label="Drop the finished file to audit it" onFiles={take}>
      <Box
        sx={{
          width: '100%',
          maxWidth: 1040,
          mx: 'auto',
          p: 3,
          display: 'flex',
          flexDirection: 'column',
          gap: 2,
          flex: 1,
        }}
      >
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Audit a finished file
          </Typography>
          {audited && audited.sounds.length > 0 && (
            <TextField
              select
              label="Sound"
              value={audited.track}
              onChange={(event) => void measure(audited.file, Number(event.target.value))}
            >
              {audited.sounds.map(({ index, label }) => (
                <MenuItem key={index} value={index}>
                  {index + 1}: {label}
                </MenuItem>
              ))}
            </TextField>
          )}
          <TargetMenu target={target} onChoose={setTarget} />
          <PickFiles label={audited ? 'Another file' : 'Select a file'} multiple={false} onFiles={take} />
        </Box>
        {work && <ProgressLine label={work.label} done={work.done} onCancel={cancel} />}
        {failure && <FailureNote message={`${failure.file}: ${failure.message}`} hint={failure.hint} />}
        {extra > 0 && (
          <Box sx={{ color: 'text.secondary' }}>One file is audited at a time; the first one was taken.</Box>
        )}
        {!audited && !work && (
          <Box
            sx={{
              flex: 1,
              display: 'grid',
              placeItems: 'center',
              textAlign: 'center',
              color: 'text.secondary',
              minHeight: 260,
              border: '1px dashed',
              borderColor: 'divider',
              borderRadius: 1,
            }}
          >
            <Box>
              <Typography variant="h2" component="p" sx={{ color: 'text.primary' }}>
                Drop a finished file here
              </Typography>
              <Box sx={{ mt: 1 }}>
                See whether it meets the target, and the gain that would fix it. The file is not saved and
                never leaves this machine.
              </Box>
            </Box>
          </Box>
        )}
        {audited && verdict && advice && (
          <>
            <About audited={audited} target={target} exact={exact} />
            <Box component="section" aria-label="Verdict on the file" sx={panel}>
              <VerdictView verdict={verdict} of="the whole file" />
              <Box
                sx={{
                  display: 'flex',
                  alignItems: 'center',
                  gap: 1,
                  px: 2,
                  py: 1.25,
                  borderTop: 1,
                  borderColor: 'divider',
                }}
                data-mend={advice.kind}
              >
                <LevelMark
                  standing={
                    advice.kind === 'cannot' ? 'over' : advice.kind === 'nothing' ? 'unknown' : 'within'
                  }
                />
                <Box sx={{ flex: 1 }}>{advice.sentence}</Box>
                {(advice.kind === 'gain' || (advice.kind === 'cannot' && advice.gainDb !== 0)) && (
                  <Button
                    variant={advice.kind === 'gain' ? 'contained' : 'outlined'}
                    disabled={work !== null}
                    onClick={() => void mend(audited, advice.gainDb, writeFormat)}
                  >
                    {advice.kind === 'gain' ? 'Correct it' : 'Apply the possible gain'}:{' '}
                    {signed(advice.gainDb, 2)} dB
                  </Button>
                )}
              </Box>
            </Box>
            {mended && <MendedFile audited={audited} mended={mended} target={target} />}
          </>
        )}
      </Box>
    </DropArea>
  );
}
