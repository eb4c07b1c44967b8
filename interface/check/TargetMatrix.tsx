'use client';

import RemoveIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useMemo } from 'react';
import { newerShipped } from '@/core/check/shipped';
import { sourceOf, type Target } from '@/core/check/target';
import {
  OUTCOME_WORDS,
  verdictOf,
  whyNot,
  type FigureVerdict,
  type Judged,
  type LimitedFigure,
  type Verdict,
} from '@/core/check/verdict';
import { addTarget, leadTarget, removeTarget, type CheckedBy } from '@/core/programme/edits/check';
import { figure, withUnit } from '@/core/text/figures';
import { LevelMark } from '../ui/LevelMark';
import { deviationWords } from '@/core/check/deviationWords';

/** Does one named step on what is checked by. */
export type ChangeCheckedBy = (name: string, edit: <T extends CheckedBy>(by: T) => T) => void;

/** A column: the figures that stand in it, of which each target limits one or both. */
interface Column {
  readonly id: string;
  readonly heading: string;
  readonly figures: readonly LimitedFigure[];
  /** The figure itself, where no target limits it. */
  readonly value: (judged: Judged) => number | null;
  readonly unit: string;
  /** There whether limited or not. */
  readonly always?: true;
}

const COLUMNS: readonly Column[] = [
  {
    ...{
      id: 'integrated',
      heading: 'Loudness',
      figures: ['integrated', 'dialogue'],
      unit: 'LUFS',
      always: true,
    },
    value: ({ integratedLufs }) => integratedLufs,
  },
  {
    ...{ id: 'truePeak', heading: 'True peak', figures: ['truePeak'], unit: 'dBTP', always: true },
    value: ({ truePeakDbtp }) => truePeakDbtp,
  },
  {
    ...{ id: 'shortTerm', heading: 'Max short-term', figures: ['maxShortTerm'], unit: 'LUFS', always: true },
    value: ({ maxShortTermLufs }) => maxShortTermLufs,
  },
  {
    ...{ id: 'momentary', heading: 'Max momentary', figures: ['maxMomentary'], unit: 'LUFS', always: true },
    value: ({ maxMomentaryLufs }) => maxMomentaryLufs,
  },
  {
    ...{
      id: 'range',
      heading: 'Range',
      figures: ['loudnessRange', 'leastLoudnessRange'],
      unit: 'LU',
      always: true,
    },
    value: ({ loudnessRangeLu }) => loudnessRangeLu,
  },
  {
    ...{ id: 'samplePeak', heading: 'Sample peak', figures: ['samplePeak'], unit: 'dBFS' },
    value: ({ samplePeakDbfs }) => samplePeakDbfs,
  },
  {
    ...{ id: 'overRest', heading: 'Over the rest', figures: ['dialogueOverRest'], unit: 'LU' },
    value: ({ spoken }) => spoken?.overRestLu ?? null,
  },
  {
    ...{ id: 'silence', heading: 'Longest silence', figures: ['silence'], unit: 's' },
    value: ({ silence }) => silence?.longest ?? null,
  },
  {
    ...{ id: 'head', heading: 'Head', figures: ['leastHead', 'head'], unit: 's' },
    value: ({ silence }) => silence?.head ?? null,
  },
  {
    ...{ id: 'tail', heading: 'Tail', figures: ['leastTail', 'tail'], unit: 's' },
    value: ({ silence }) => silence?.tail ?? null,
  },
  {
    ...{ id: 'length', heading: 'Length', figures: ['leastLength', 'length'], unit: 's' },
    value: ({ form }) => form?.seconds ?? null,
  },
];

/** Which field of a target says the limit of a figure. */
const FIELD: Partial<Record<LimitedFigure, string>> = {
  integrated: 'integratedLufs',
  dialogue: 'integratedLufs',
  truePeak: 'maxTruePeakDbtp',
  samplePeak: 'maxSamplePeakDbfs',
  maxShortTerm: 'maxShortTermLufs',
  maxMomentary: 'maxMomentaryLufs',
  loudnessRange: 'maxLoudnessRangeLu',
  leastLoudnessRange: 'minLoudnessRangeLu',
};

const goalWords = ({ goal, tolerance, atLeast, unit }: FigureVerdict): string =>
  tolerance === null
    ? `${atLeast ? 'at least' : 'at most'} ${figure(goal)} ${unit}`
    : `${figure(goal)} ±${figure(tolerance)} ${unit}`;

function Cell({
  entries,
  target,
  large,
}: {
  entries: readonly FigureVerdict[];
  target: Target;
  large: boolean;
}) {
  const [first] = entries;
  return (
    <>
      {entries.map((entry) => (
        <Tooltip
          key={entry.figure}
          title={`${entry.label}: ${goalWords(entry)}, by ${sourceOf(target, FIELD[entry.figure] ?? '')}`}
        >
          <Box
            data-cell-figure={entry.figure}
            data-state={entry.state}
            sx={{ display: 'flex', gap: 0.75, alignItems: 'baseline', whiteSpace: 'nowrap' }}
          >
            <LevelMark standing={entry.state} />
            <Box sx={{ lineHeight: 1.25 }}>
              {entry === first && (
                <Box sx={{ fontSize: large ? 19 : 14, fontWeight: 600 }}>
                  {figure(entry.value)}{' '}
                  <Box component="span" sx={{ fontSize: 11, fontWeight: 450, color: 'text.secondary' }}>
                    {entry.unit}
                    {entry.figure === 'dialogue' && ', speech'}
                  </Box>
                </Box>
              )}
              <Box sx={{ fontSize: 11 }}>{deviationWords(entry)}</Box>
              <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{goalWords(entry)}</Box>
            </Box>
          </Box>
        </Tooltip>
      ))}
    </>
  );
}

function Row({
  target,
  verdict,
  judged,
  columns,
  leads,
  whole,
  change,
}: {
  target: Target;
  verdict: Verdict;
  judged: Judged;
  columns: readonly Column[];
  leads: boolean;
  /** It is the whole programme that is judged, not a part of it. */
  whole: boolean;
  change: ChangeCheckedBy;
}) {
  const newer = newerShipped(target);
  const { meets, outcome } = verdict;
  const why = whyNot(verdict);
  return (
    <Box
      component="tr"
      data-target={target.id}
      data-leads={leads}
      data-outcome={outcome}
      sx={{
        '& > td, & > th': { borderBottom: 1, borderColor: 'divider', py: leads ? 1.25 : 0.75, px: 1.25 },
      }}
    >
      <Box component="th" scope="row" sx={{ textAlign: 'left', fontWeight: 600, minWidth: 150 }}>
        <Box sx={{ fontSize: leads ? 16 : 13 }}>{target.name}</Box>
        <Box sx={{ fontSize: 11, fontWeight: 450, color: 'text.secondary' }}>
          {target.source}
          {target.edition ? `, measured by ${target.edition}` : ''}
        </Box>
        {newer && (
          <Button
            size="small"
            onClick={() => change(`Use the shipped figures of ${newer.name}`, (by) => addTarget(by, newer))}
            sx={{ p: 0, fontSize: 11 }}
          >
            Differs from the one shipped: use that
          </Button>
        )}
      </Box>
      <Box component="td" sx={{ whiteSpace: 'nowrap' }}>
        <Box
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 0.75,
            fontSize: leads ? 17 : 13,
            fontWeight: 600,
          }}
        >
          <LevelMark
            standing={meets === null ? 'unknown' : meets ? 'within' : 'over'}
            size={leads ? 12 : 9}
          />
          {OUTCOME_WORDS[outcome]}
        </Box>
        {why && <Box sx={{ fontSize: 11, whiteSpace: 'normal', maxWidth: 260 }}>{why}</Box>}
        {verdict.form.map((one) => (
          <Box key={one.figure} data-form={one.figure} sx={{ fontSize: 11 }}>
            {one.label}: {one.value}
            {one.meets ? '' : `, not ${one.wanted.join(' or ')}`}
          </Box>
        ))}
        {!whole && <Box sx={{ fontSize: 11, color: 'text.secondary' }}>for this part</Box>}
      </Box>
      {columns.map(({ id, figures, value, unit }) => {
        const entries = verdict.figures.filter((entry) => figures.includes(entry.figure));
        return (
          <Box component="td" key={id} sx={{ verticalAlign: 'top' }}>
            {entries.length > 0 ? (
              <Cell entries={entries} target={target} large={leads} />
            ) : (
              <Box sx={{ color: 'text.secondary', fontSize: 12, pl: 2.25, whiteSpace: 'nowrap' }}>
                {withUnit(value(judged), unit)}
                <Box sx={{ fontSize: 11 }}>not limited</Box>
              </Box>
            )}
          </Box>
        );
      })}
      <Box component="td" sx={{ whiteSpace: 'nowrap', textAlign: 'right' }}>
        {leads ? (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>leads</Box>
        ) : (
          <>
            <Button
              size="small"
              onClick={() => change(`${target.name} leads`, (by) => leadTarget(by, target.id))}
            >
              Let it lead
            </Button>
            <Tooltip title="Take this target out">
              <IconButton
                size="small"
                aria-label={`Take ${target.name} out`}
                onClick={() => change(`Take target ${target.name} out`, (by) => removeTarget(by, target.id))}
              >
                <RemoveIcon fontSize="small" />
              </IconButton>
            </Tooltip>
          </>
        )}
      </Box>
    </Box>
  );
}

/** One mix against every target in force: a row each, the leading one large. */
export function TargetMatrix({
  targets,
  judged,
  leftOut,
  whole,
  change,
}: {
  /** The leading one first. */
  targets: readonly Target[];
  judged: Judged;
  leftOut: number;
  whole: boolean;
  change: ChangeCheckedBy;
}) {
  const rows = useMemo(
    () => targets.map((target) => ({ target, verdict: verdictOf(judged, target, leftOut) })),
    [targets, judged, leftOut],
  );
  const columns = COLUMNS.filter(
    ({ always, figures }) =>
      always || rows.some(({ verdict }) => verdict.figures.some((entry) => figures.includes(entry.figure))),
  );
  return (
    <Box sx={{ overflow: 'auto' }} tabIndex={0} role="region" aria-label="Verdicts by target">
      <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 13, width: '100%' }}>
        <thead>
          <Box
            component="tr"
            sx={{
              '& > th': {
                ...{ textAlign: 'left', fontSize: 11, fontWeight: 450, color: 'text.secondary' },
                ...{ px: 1.25, py: 0.5, borderBottom: 1, borderColor: 'divider', whiteSpace: 'nowrap' },
              },
            }}
          >
            <th scope="col">Target</th>
            <th scope="col">Verdict</th>
            {columns.map(({ id, heading }) => (
              <th scope="col" key={id}>
                {heading}
              </th>
            ))}
            <th scope="col" aria-label="Lead, take out" />
          </Box>
        </thead>
        <tbody>
          {rows.map(({ target, verdict }, i) => (
            <Row key={target.id} {...{ target, verdict, judged, columns, whole, change }} leads={i === 0} />
          ))}
        </tbody>
      </Box>
    </Box>
  );
}
