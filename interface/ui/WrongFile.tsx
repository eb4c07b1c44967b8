import Alert from '@mui/material/Alert';

/** Says that a written file is not what was worked out, and why. */
export function WrongFile({ wrong, hint }: { wrong: readonly string[]; hint: string }) {
  if (wrong.length === 0) return null;
  return (
    <Alert severity="error" variant="outlined" sx={{ py: 0 }} data-disagrees>
      {wrong.join(' ')} {hint}
    </Alert>
  );
}
