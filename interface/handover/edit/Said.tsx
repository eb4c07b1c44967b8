import Box from '@mui/material/Box';

/** What a form leaves out, before anything is saved. */
export function Said({ sentences, none }: { sentences: readonly string[]; none?: string }) {
  if (sentences.length === 0) return none ? <Box sx={{ color: 'text.secondary' }}>{none}</Box> : null;
  return (
    <Box
      component="ul"
      data-said
      aria-label="Not told, or told otherwise"
      sx={{ m: 0, pl: 2.25, display: 'grid', gap: 0.5 }}
    >
      {sentences.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </Box>
  );
}
