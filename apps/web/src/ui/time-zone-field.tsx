import { useId } from 'react';
import { TextField } from './field';

interface Props {
  readonly value: string;
  readonly onChange: (zone: string) => void;
}

/** A zone of the IANA database, completed from those the browser knows. */
export function TimeZoneField({ value, onChange }: Props) {
  const id = useId();
  return (
    <>
      <TextField
        label="Time zone"
        list={id}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
      <datalist id={id}>
        {Intl.supportedValuesOf('timeZone').map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
    </>
  );
}
