import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';

/** What is under way, how far it is, and a way to stop it. */
export function ProgressLine({
  label,
  done,
  onCancel,
}: {
  label: string;
  done: number;
  onCancel: () => void;
}) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, maxWidth: 560 }}>
      <Box role="status" sx={{ width: 210, whiteSpace: 'nowrap' }}>
        {label} {Math.round(done * 100)} %
      </Box>
      <LinearProgress
        variant="determinate"
        value={Math.round(done * 100)}
        aria-label={label}
        sx={{ flex: 1 }}
      />
      <Button color="inherit" onClick={onCancel}>
        Cancel
      </Button>
    </Box>
  );
}
