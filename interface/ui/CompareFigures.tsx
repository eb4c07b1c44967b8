import Box from '@mui/material/Box';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { figure, signed } from '@/core/text/figures';
import { FIGURE_ROWS } from './figureRows';

/** Two sets of figures side by side, with the difference; two decimals, as the difference is the point. */
export function CompareFigures({
  a,
  b,
  aTitle,
  bTitle,
}: {
  a: LoudnessFigures;
  b: LoudnessFigures;
  aTitle: string;
  bTitle: string;
}) {
  return (
    <Box
      component="table"
      aria-label={`${aTitle} and ${bTitle}`}
      sx={{
        borderCollapse: 'collapse',
        fontSize: 13,
        '& td, & th': {
          py: 0.4,
          px: 1.5,
          textAlign: 'right',
          fontWeight: 450,
          borderBottom: 1,
          borderColor: 'divider',
        },
        '& th:first-of-type': { textAlign: 'left', pl: 0 },
        '& thead th': { color: 'text.secondary', fontSize: 12 },
      }}
    >
      <thead>
        <tr>
          <th />
          <th scope="col">{aTitle}</th>
          <th scope="col">{bTitle}</th>
          <th scope="col">Difference</th>
        </tr>
      </thead>
      <tbody>
        {FIGURE_ROWS.map(([key, label, unit]) => {
          const [x, y] = [a[key], b[key]];
          return (
            <tr key={key} data-compare={key}>
              <th scope="row">
                {label} ({unit})
              </th>
              <td data-value={x ?? ''}>{figure(x, 2)}</td>
              <td data-value={y ?? ''}>
                <strong>{figure(y, 2)}</strong>
              </td>
              <td>{x === null || y === null ? '—' : signed(y - x, 2)}</td>
            </tr>
          );
        })}
      </tbody>
    </Box>
  );
}
