import Alert from '@mui/material/Alert';
import type { ReactNode } from 'react';

/** What went wrong and what to do, in one line. */
export function FailureNote({
  message,
  hint,
  action,
}: {
  message: string;
  hint: string;
  action?: ReactNode;
}) {
  return (
    <Alert severity="error" variant="outlined" action={action} sx={{ py: 0, alignItems: 'center' }}>
      <strong>{message}</strong> {hint}
    </Alert>
  );
}
