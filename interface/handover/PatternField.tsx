import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { NAME_FIELDS, patternFault } from '@/core/deliver/fileNames';

/** What files are called, with fields in braces; checked as it is typed. */
export function PatternField({
  pattern,
  preview,
  onPattern,
}: {
  pattern: string;
  /** The first name that it gives. */
  preview: string | null;
  onPattern: (pattern: string) => void;
}) {
  const [draft, setDraft] = useState<{ readonly of: string; readonly text: string } | null>(null);
  // What was undone elsewhere is shown as it is.
  const text = draft && draft.of === pattern ? draft.text : pattern;
  const fault = patternFault(text);
  const change = (next: string): void => {
    const good = patternFault(next) === null;
    setDraft({ of: good ? next : pattern, text: next });
    if (good) onPattern(next);
  };
  return (
    <Box>
      <TextField
        fullWidth
        label="Name of the files"
        value={text}
        error={fault !== null}
        helperText={fault ?? (preview ? `As: ${preview}` : ' ')}
        onChange={(event) => change(event.target.value)}
        onBlur={() => setDraft(null)}
        slotProps={{ htmlInput: { maxLength: 300, spellCheck: false } }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 0.75, fontSize: 11.5 }}>
        {NAME_FIELDS.map((field) => (
          <ButtonBase
            key={field}
            aria-label={`{${field}}: put into the name`}
            // The field keeps what is typed in it.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => change(`${text}${text === '' || /\s$/.test(text) ? '' : ' '}{${field}}`)}
            sx={{ fontFamily: 'inherit', fontSize: 11.5, color: 'primary.main' }}
          >
            {`{${field}}`}
          </ButtonBase>
        ))}
      </Box>
    </Box>
  );
}
