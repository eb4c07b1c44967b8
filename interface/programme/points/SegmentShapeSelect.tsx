import Box from '@mui/material/Box';
import { SEGMENT_SHAPES } from '@/core/programme/projectSchema';
import type { SegmentShape } from '@/core/programme/model';
import { SEGMENT_WORDS } from '../../ui/words';

const SHAPES: readonly (SegmentShape | 'straight')[] = ['straight', ...SEGMENT_SHAPES];

/** How a curve goes on from a point. */
export function SegmentShapeSelect({
  label,
  shape,
  disabled,
  onShape,
}: {
  label: string;
  /** Straight when left out. */
  shape: SegmentShape | undefined;
  disabled: boolean;
  onShape: (shape: SegmentShape | undefined) => void;
}) {
  return (
    <Box
      component="select"
      aria-label={label}
      value={shape ?? 'straight'}
      disabled={disabled}
      onChange={(event) => {
        const { value } = event.target as unknown as HTMLSelectElement;
        onShape(value === 'straight' ? undefined : (value as SegmentShape));
      }}
      sx={{ font: 'inherit', fontSize: 11.5, color: 'inherit', bgcolor: 'background.paper', width: 88 }}
    >
      {SHAPES.map((one) => (
        <option key={one} value={one}>
          {SEGMENT_WORDS[one]}
        </option>
      ))}
    </Box>
  );
}
