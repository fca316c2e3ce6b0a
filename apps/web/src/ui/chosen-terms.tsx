import { useId, useState } from 'react';
import { Button } from './button';

export interface Suggestion<Term> {
  readonly term: Term;
  readonly words: string;
}

interface Props<Term> {
  readonly label: string;
  /** What it means that nothing is chosen. */
  readonly none: string;
  readonly placeholder: string;
  readonly terms: readonly Term[];
  readonly words: (term: Term) => string;
  /** What is called like what was typed, best first. */
  readonly suggest: (typed: string) => readonly Suggestion<Term>[];
  readonly onChange: (terms: readonly Term[]) => void;
}

/** Most that a list of suggestions shows. */
const SUGGESTED = 7;

/** Things of the directory, chosen by typing: each can be taken out, and nothing is taken that nobody knows. */
export function ChosenTerms<Term>({
  label,
  none,
  placeholder,
  terms,
  words,
  suggest,
  onChange,
}: Props<Term>) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const found = typed.trim() === '' ? [] : suggest(typed).slice(0, SUGGESTED);
  const take = (term: Term) => {
    setTyped('');
    onChange([...terms, term]);
  };
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-[12.5px] font-semibold text-ink-2">
        {label}
      </label>
      <Chips items={terms} none={none} words={words} onChange={onChange} />
      <input
        id={id}
        className="field"
        placeholder={placeholder}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          if (found[0]) take(found[0].term);
        }}
      />
      {found.map((each) => (
        <Button key={each.words} look="quiet" className="mr-1" onClick={() => take(each.term)}>
          {each.words}
        </Button>
      ))}
      {typed.trim() !== '' && found.length === 0 && (
        <p className="text-[12.5px] text-stop">Nothing in the directory matches.</p>
      )}
    </div>
  );
}

interface ChipsProps<Item> {
  readonly items: readonly Item[];
  readonly none: string;
  readonly words: (item: Item) => string;
  readonly readOnly?: boolean;
  readonly onChange: (items: readonly Item[]) => void;
}

/** Some chosen things in a row, each with a way out. */
export function Chips<Item>({ items, none, words, readOnly = false, onChange }: ChipsProps<Item>) {
  return (
    <p className="mb-1 flex flex-wrap gap-1.5">
      {items.length === 0 && <span className="text-ink-2">{none}</span>}
      {items.map((item, index) => (
        <span key={`${index} ${words(item)}`} className="border border-rule-strong px-1.5">
          {words(item)}{' '}
          {!readOnly && (
            <button
              type="button"
              aria-label={`Remove ${words(item)}`}
              className="min-h-6 min-w-6 text-press"
              onClick={() => onChange(items.filter((_each, at) => at !== index))}
            >
              ×
            </button>
          )}
        </span>
      ))}
    </p>
  );
}
