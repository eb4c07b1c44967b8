import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { FINDING_NAMES, type Finding } from '@/core/check/findings/finding';
import { figure } from '@/core/text/figures';
import { LevelMark } from '../ui/LevelMark';
import type { DataColumn } from '../ui/table/column';
import type { Looked } from './looked';

/** A value with its unit, as short as it can be told. */
export const sizeWords = (value: number | null, unit: string): string =>
  value === null
    ? '—'
    : unit === 'samples'
      ? `${figure(value, 0)} samples`
      : `${figure(value, unit === '' ? 2 : 1)} ${unit}`.trim();

/** Where it is: a place, or from where to where. */
const placesOf = ({ from, to }: Finding, place: Looked['place']): string =>
  to - from >= 0.05 ? `${place(from)} – ${place(to)}` : place(from);

/** What every list of findings says of each: what, where, how much. */
export const findingColumns = <T extends { readonly finding: Finding }>(
  looked: Pick<Looked, 'place' | 'go'>,
): readonly DataColumn<T>[] => [
  {
    ...{ id: 'kind', heading: 'Finding', size: 132, fixed: true },
    order: ({ finding }: T) => `${finding.weight} ${FINDING_NAMES[finding.kind]}`,
    cell: ({ finding }) => (
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
        <LevelMark standing={finding.weight === 'breaks' ? 'over' : 'unknown'} />
        <Box sx={{ minWidth: 0, lineHeight: '15px' }}>
          <Box sx={{ fontWeight: 600 }}>{FINDING_NAMES[finding.kind]}</Box>
          <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
            {finding.weight === 'breaks' ? 'breaks a limit' : 'worth a look'}
          </Box>
        </Box>
      </Box>
    ),
  },
  {
    ...{
      id: 'where',
      heading: 'Where',
      size: 100,
      order: ({ finding }: T) => (finding.whole ? -1 : finding.from),
    },
    cell: ({ finding }) =>
      finding.whole ? (
        'all of it'
      ) : (
        <Button
          color="inherit"
          tabIndex={-1}
          aria-label={`Go to ${placesOf(finding, looked.place)}`}
          onClick={() => looked.go(finding.from)}
          sx={{
            p: 0,
            minWidth: 0,
            fontWeight: 450,
            textDecoration: 'underline',
            lineHeight: '15px',
            textAlign: 'left',
          }}
        >
          {placesOf(finding, looked.place)}
        </Button>
      ),
  },
  {
    ...{ id: 'size', heading: 'Size', size: 98, right: true, order: ({ finding }: T) => finding.value },
    cell: ({ finding }) => (
      <>
        {sizeWords(finding.value, finding.unit)}
        {finding.limit !== null && (
          <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
            limit {sizeWords(finding.limit, finding.unit)}
          </Box>
        )}
      </>
    ),
    cellProps: () => ({ sx: { lineHeight: '15px' } }),
  },
  {
    ...{ id: 'what', heading: 'What is there', size: 170, grow: 1, sentence: true },
    cell: ({ finding }) => finding.sentence,
    cellProps: ({ finding }) => ({ title: finding.sentence }),
  },
];
