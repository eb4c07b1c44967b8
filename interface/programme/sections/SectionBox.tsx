'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useDeferredValue, useMemo } from 'react';
import { curveSections, isFaded, SILENT_DB } from '@/core/programme/curve';
import { overRest, sectionRow, type SectionRow } from '@/core/proposals/sectionLevels';
import { PART_GAIN } from '@/core/programme/gainField';
import { clipEnd, type Clip } from '@/core/programme/model';
import {
  coveredBy,
  inProgramme,
  sectionDb,
  sectionSeconds,
  type FrameRange,
} from '@/core/programme/sections';
import { placeText } from '@/core/programme/timeText';
import { signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { fadeShapeWords } from '../../ui/words';
import { gainText } from '../clipLevel';
import { GainField } from '../../editing/GainField';
import { useViewSettings } from '../viewSettings';
import { useMeasuredClips, usePlaceTold } from '../useMeasuredClips';
import { RampField } from './RampField';
import { changePart, withParts } from './sectionActions';

/** What a part is brought to: as one button, with the gain that it takes. */
function ToLevel({ label, rows, range }: { label: string; rows: readonly SectionRow[]; range: FrameRange }) {
  const session = useSession();
  const usable = rows.filter(({ skipped, changeDb }) => skipped === null && Math.abs(changeDb) > 0.005);
  const [first] = rows;
  const apply = (): void => {
    const gains = usable.map(({ clipId, changeDb }) => ({
      clipId,
      range,
      change: { kind: 'change', db: changeDb } as const,
    }));
    session.do(
      `Level ${rows.length === 1 ? 'a part' : count(usable.length, 'part')} ${label.toLowerCase()}`,
      (project) => withParts(project, gains),
    );
  };
  return (
    <Tooltip
      placement="left"
      disableInteractive
      title={
        rows.length === 1
          ? first!.sentence
          : `Each part by its own gain: ${usable.length} of ${rows.length} change.`
      }
    >
      <span>
        <Button variant="outlined" disabled={usable.length === 0} onClick={apply}>
          {label}
          {rows.length === 1 && usable.length === 1 && ` ${signed(first!.changeDb)}`}
          {rows.length === 1 && first!.limitedBy === 'ceiling' && ' ▲'}
        </Button>
      </span>
    </Tooltip>
  );
}

/** The part of the chosen clips that lies in the range: how loud it is, and what can be done to it alone. */
function InRange({ clips, range }: { clips: readonly Clip[]; range: FrameRange }) {
  const session = useSession();
  const project = useProject();
  const { target, sampleRate } = project;
  const entries = useMeasuredClips(clips);
  const place = usePlaceTold();
  const { rampSeconds, fadeShape } = useViewSettings();
  const [toRest, toTarget] = useMemo(
    () =>
      (['rest', target.integratedLufs] as const).map((goal) =>
        entries.map((entry) =>
          sectionRow(
            entry,
            sectionSeconds(entry.clip, range, sampleRate),
            { goal, ceilingDbtp: target.maxTruePeakDbtp, ramp: rampSeconds },
            { place },
          ),
        ),
      ),
    [entries, range, sampleRate, target, place, rampSeconds],
  );
  const levels = clips.map((clip) => sectionDb(clip, range, rampSeconds * sampleRate));
  const level = levels.every((db) => db !== null && db === levels[0]) ? levels[0]! : null;
  const [row] = toRest!;
  const only = clips.length === 1 ? clips[0] : undefined;
  const changed = clips.some((clip) => clip.curve.length > 0);
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Box component="h3" sx={{ m: 0, fontSize: 13, fontWeight: 650, flex: 1 }}>
          {only ? 'Part in the range' : `Parts of ${count(clips.length, 'clip')} in the range`}
        </Box>
        <Box sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}>
          {placeText(project, Math.max(range.from, only ? only.start : 0))} to{' '}
          {placeText(project, only ? Math.min(range.to, clipEnd(only)) : range.to)}
        </Box>
      </Box>
      {only && row && (
        <Box sx={{ fontSize: 12, mt: 0.25 }} data-part-level>
          {row.lufs === null
            ? row.sentence
            : `${withUnit(row.lufs, 'LUFS')}${row.short ? ' (max momentary)' : ''}${row.overLu === null ? '' : `, ${overRest(row.overLu)}`}; peak ${withUnit(row.truePeakDbtp, 'dBTP')}`}
        </Box>
      )}
      <Box sx={{ mt: 1.5, display: 'flex', gap: 1, alignItems: 'start' }}>
        <GainField
          label="Gain of the part (dB)"
          value={level === null || level <= SILENT_DB ? null : level}
          range={PART_GAIN}
          hint=""
          onEntry={(entry) => changePart(session, clips, range, entry)}
        />
        <RampField />
      </Box>
      <Box sx={{ display: 'flex', gap: 0.75, mt: 1, flexWrap: 'wrap' }}>
        <ToLevel label="To the rest" rows={toRest!} range={range} />
        <ToLevel label="To the target" rows={toTarget!} range={range} />
        <Button color="inherit" onClick={() => changePart(session, clips, range, { kind: 'silence' })}>
          Silence
        </Button>
        {(['out', 'in'] as const).map((way) => (
          <Button
            key={way}
            color="inherit"
            title={`${fadeShapeWords(fadeShape)}, as set under Fades`}
            onClick={() => changePart(session, clips, range, { kind: 'fade', way, shape: fadeShape })}
          >
            Fade {way}
          </Button>
        ))}
        <Button
          color="inherit"
          disabled={!changed}
          onClick={() => changePart(session, clips, range, { kind: 'even' })}
        >
          Remove its gain
        </Button>
      </Box>
    </>
  );
}

/** The parts of a clip that were raised, lowered, faded or silenced; each can be selected, or its gain removed. */
function ChangedParts({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const sections = useMemo(() => curveSections(clip), [clip]);
  if (sections.length === 0) return null;
  return (
    <Box
      component="ul"
      aria-label="Parts with a gain of their own"
      sx={{ listStyle: 'none', m: 0, p: 0, mt: 0.75, fontSize: 12 }}
    >
      {sections.map((section) => {
        const { from, to, db } = section;
        const range = { from: inProgramme(clip, from), to: inProgramme(clip, to) };
        const where = `${placeText(project, range.from)} to ${placeText(project, range.to)}`;
        return (
          <Box
            component="li"
            key={from}
            data-part={from}
            sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}
          >
            <Tooltip title="Select this part as the range">
              <Button
                color="inherit"
                onClick={() => session.listening.setRange(range.from, range.to)}
                sx={{ fontWeight: 450, px: 0.5, minWidth: 0 }}
              >
                {where}
              </Button>
            </Tooltip>
            <Box sx={{ flex: 1, textAlign: 'right', fontWeight: 600 }}>
              {isFaded(clip.curve, section) ? 'faded' : db <= SILENT_DB ? 'silent' : gainText(db)}
            </Box>
            <IconButton
              size="small"
              aria-label={`Remove the gain of ${where}`}
              onClick={() => changePart(session, [clip], range, { kind: 'even' })}
              sx={{ p: 0.25 }}
            >
              <ClearIcon sx={{ fontSize: 15 }} />
            </IconButton>
          </Box>
        );
      })}
    </Box>
  );
}

/** Gain on a part of the chosen clips: the part in the range, the parts that have one, and those that would need one. */
export function SectionBox({ clips, onFindParts }: { clips: readonly Clip[]; onFindParts: () => void }) {
  // While a range is drawn the figures may come a little later than the range.
  const range = useDeferredValue(useSessionState((state) => state.range));
  const covered = useMemo(() => (range ? coveredBy(clips, range) : []), [clips, range]);
  const only = clips.length === 1 ? clips[0] : undefined;
  return (
    <Box component="section" aria-label="Parts" sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
      {range && covered.length > 0 ? (
        <InRange clips={covered} range={range} />
      ) : (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          To change only a part, draw a range over it on the ruler.
        </Box>
      )}
      {only && <ChangedParts clip={only} />}
      <Button color="inherit" onClick={onFindParts} sx={{ mt: 0.5, px: 0.5 }}>
        Find parts that stand out…
      </Button>
    </Box>
  );
}
