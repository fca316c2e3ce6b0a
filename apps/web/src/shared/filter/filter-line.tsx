import { completeFilterOver, type FieldTable, parseFilterOver } from '@lantern/core/incidents';
import { type KeyboardEvent, useId, useRef, useState } from 'react';
import { faultWords } from '../../wording/desk';

interface Props<Name extends string> {
  readonly line: string;
  /** The fields of the list that is filtered. */
  readonly fields: FieldTable<Name>;
  readonly placeholder: string;
  /** A hook: values of a field that begin alike; none for null. The same function at every draw. */
  readonly useValues: (field: Name | null, begun: string) => readonly string[];
  readonly onChange: (line: string) => void;
}

/** Completions that are shown. */
const SHOWN = 8;

/** The filter as one line of text, completed as it is typed, with what is wrong where it is wrong. */
export function FilterLine<Name extends string>({
  line,
  fields,
  placeholder,
  useValues,
  onChange,
}: Props<Name>) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const [typed, setTyped] = useState(line);
  const [cursor, setCursor] = useState(line.length);
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState(0);
  // Chips, links and views change it from outside.
  const [shown, setShown] = useState(line);
  if (shown !== line) {
    setShown(line);
    setTyped(line);
  }
  const parsed = parseFilterOver(fields, typed);
  const completion = completeFilterOver(fields, typed, cursor);
  const values = useValues(open ? completion.valuesOf : null, completion.begun);
  const found = completion.valuesOf ? values.map((value) => JSON.stringify(value)) : completion.options;
  const options = open ? found.slice(0, SHOWN) : [];
  const take = (option: string) => {
    const next = `${typed.slice(0, completion.from)}${option} ${typed.slice(completion.to).trimStart()}`;
    const at = completion.from + option.length + 1;
    setTyped(next);
    setCursor(at);
    setChosen(0);
    input.current?.focus();
    requestAnimationFrame(() => input.current?.setSelectionRange(at, at));
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' && options.length > 0) setChosen((chosen + 1) % options.length);
    else if (event.key === 'ArrowUp' && options.length > 0)
      setChosen((chosen + options.length - 1) % options.length);
    else if (event.key === 'Tab' && !event.shiftKey && options[chosen]) take(options[chosen]);
    else if (event.key === 'Enter' && parsed.status === 'read') {
      setOpen(false);
      onChange(typed.trim());
    } else if (event.key === 'Escape') setOpen(false);
    else return;
    event.preventDefault();
  };
  const faulty = parsed.status === 'faulty' ? parsed.fault : null;
  // A word that is still being written, and can become right, is no fault yet.
  const isBegun = faulty !== null && options.length > 0 && faulty.at + faulty.length >= cursor;
  const fault = isBegun ? null : faulty;
  return (
    <div className="relative min-w-0 flex-1">
      <input
        ref={input}
        role="combobox"
        aria-label="Filter as text"
        aria-expanded={options.length > 0}
        aria-controls={`${id}-list`}
        aria-autocomplete="list"
        aria-activedescendant={options.length > 0 ? `${id}-${chosen}` : undefined}
        aria-invalid={fault ? true : undefined}
        aria-describedby={`${id}-fault`}
        spellCheck={false}
        autoComplete="off"
        className="field !py-1 font-mono text-[12.5px]"
        placeholder={placeholder}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setCursor(event.target.selectionStart ?? event.target.value.length);
          setOpen(true);
          setChosen(0);
        }}
        onSelect={(event) => setCursor(event.currentTarget.selectionStart ?? 0)}
        onFocus={() => setOpen(true)}
        onBlur={() => setTimeout(() => setOpen(false), 150)}
        onKeyDown={onKey}
      />
      {options.length > 0 && (
        <ul
          id={`${id}-list`}
          role="listbox"
          className="absolute top-full left-0 z-40 mt-1 max-h-64 min-w-60 overflow-auto rounded border border-rule-strong bg-sheet py-1 shadow-lg"
        >
          {options.map((option, at) => (
            <li
              key={option}
              id={`${id}-${at}`}
              role="option"
              aria-selected={at === chosen}
              className={`px-2 font-mono text-[12.5px] ${at === chosen ? 'bg-press-soft' : ''}`}
              onMouseDown={(event) => {
                event.preventDefault();
                take(option);
              }}
            >
              {option}
            </li>
          ))}
        </ul>
      )}
      <p id={`${id}-fault`} role="status" className="min-h-[1.2em] text-[12px] text-ink-2">
        {fault ? (
          <span className="text-stop">
            Character {fault.at + 1}: {faultWords(fault)}
          </span>
        ) : typed.trim() !== line.trim() ? (
          'Enter applies the line, Tab takes a suggestion.'
        ) : (
          ''
        )}
      </p>
    </div>
  );
}
