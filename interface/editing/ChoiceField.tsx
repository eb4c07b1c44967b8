import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

export interface Choice {
  readonly value: string;
  readonly label: string;
}

/** One of several, picked from a list. */
export function ChoiceField(props: {
  readonly label: string;
  readonly value: string;
  readonly choices: readonly Choice[];
  readonly help?: string;
  readonly disabled?: boolean;
  readonly onChoose: (value: string, label: string) => void;
}) {
  const { label, value, choices, help, disabled = false, onChoose } = props;
  return (
    <TextField
      select
      label={label}
      value={value}
      helperText={help}
      disabled={disabled}
      onChange={(event) => {
        const chosen = choices.find((choice) => choice.value === event.target.value);
        if (chosen && chosen.value !== value) onChoose(chosen.value, chosen.label);
      }}
    >
      {choices.map((choice) => (
        <MenuItem key={choice.value} value={choice.value} dense>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
