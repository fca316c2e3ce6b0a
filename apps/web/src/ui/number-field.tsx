import { TextField } from './field';

interface NumberProps {
  readonly label: string;
  readonly value: number;
  readonly least?: number;
  readonly most?: number;
  readonly hint?: string;
  readonly onChange: (value: number) => void;
}

export function NumberField({ label, value, least = 1, most, hint, onChange }: NumberProps) {
  return (
    <TextField
      label={label}
      type="number"
      min={least}
      max={most}
      hint={hint}
      value={value}
      onChange={(event) => onChange(event.target.valueAsNumber || 0)}
    />
  );
}
