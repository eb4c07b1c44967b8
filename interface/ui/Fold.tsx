import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { useRemembered } from './useRemembered';

/** What is asked less often, folded away under its name; it stays as it was left. */
export function Fold({
  name,
  remember = name,
  open = false,
  forced = false,
  children,
}: {
  name: string;
  /** What it is remembered by, where its name changes. */
  remember?: string;
  open?: boolean;
  /** It has to be seen: something in it is wrong. */
  forced?: boolean;
  children: ReactNode;
}) {
  const [isOpen, setOpen] = useRemembered(`fold ${remember}`, open);
  const shown = isOpen || forced;
  return (
    <Box
      component="details"
      open={shown}
      onToggle={(event) => setOpen((event.currentTarget as HTMLDetailsElement).open)}
      sx={{ fontSize: 12, borderTop: 1, borderColor: 'divider', pt: 0.75 }}
    >
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 550 }}>
        {name}
      </Box>
      {/* Built only while it is seen: with every clip that is selected it would be built anew. */}
      {shown && <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, pt: 1 }}>{children}</Box>}
    </Box>
  );
}
