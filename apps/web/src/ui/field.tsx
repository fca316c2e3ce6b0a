import { type InputHTMLAttributes, type ReactNode, type TextareaHTMLAttributes, useId } from 'react';

interface Labelled {
  readonly label: string;
  readonly hint?: ReactNode;
  readonly error?: string | undefined;
}

export function TextField({
  label,
  hint,
  error,
  className = '',
  ...rest
}: Labelled & InputHTMLAttributes<HTMLInputElement>) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-[12.5px] font-semibold text-ink-2">
        {label}
      </label>
      <input
        id={id}
        className="field"
        aria-invalid={error ? true : undefined}
        aria-describedby={`${id}-hint`}
        {...rest}
      />
      <Hint id={`${id}-hint`} hint={hint} error={error} />
    </div>
  );
}

export function TextArea({
  label,
  hint,
  error,
  className = '',
  mono = false,
  ...rest
}: Labelled & { readonly mono?: boolean } & TextareaHTMLAttributes<HTMLTextAreaElement>) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-[12.5px] font-semibold text-ink-2">
        {label}
      </label>
      <textarea
        id={id}
        className={`field resize-y ${mono ? 'font-mono' : ''}`}
        aria-invalid={error ? true : undefined}
        aria-describedby={`${id}-hint`}
        {...rest}
      />
      <Hint id={`${id}-hint`} hint={hint} error={error} />
    </div>
  );
}

interface SelectProps<Value extends string> extends Labelled {
  readonly value: Value;
  readonly options: readonly { readonly value: Value; readonly label: string }[];
  readonly onChange: (value: Value) => void;
}

export function SelectField<Value extends string>({
  label,
  hint,
  error,
  value,
  options,
  onChange,
}: SelectProps<Value>) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-[12.5px] font-semibold text-ink-2">
        {label}
      </label>
      <select
        id={id}
        className="field"
        value={value}
        aria-describedby={`${id}-hint`}
        onChange={(event) => onChange(event.target.value as Value)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
      <Hint id={`${id}-hint`} hint={hint} error={error} />
    </div>
  );
}

function Hint({
  id,
  hint,
  error,
}: {
  readonly id: string;
  readonly hint?: ReactNode;
  readonly error?: string | undefined;
}) {
  if (!hint && !error) return <span id={id} />;
  return (
    <p id={id} className={`mt-1 text-[12.5px] ${error ? 'text-stop' : 'text-ink-2'}`}>
      {error ?? hint}
    </p>
  );
}
