import { type Whereabouts, type WhereTerm, whereValue } from '@lantern/core';
import { useId, useState } from 'react';
import { useMachines, usePlacePaths } from '../../data/policies';
import { Button } from '../../ui/button';
import { whereTermWords } from '../../wording/sentence';

interface Props {
  readonly where: Whereabouts;
  readonly onChange: (where: Whereabouts) => void;
}

/** Machines and places, chosen from the directory. */
export function WhereEditor({ where, onChange }: Props) {
  const found = useSuggestions();
  return (
    <div className="flex flex-col gap-3">
      <Terms
        label="Only at"
        none="everywhere"
        terms={where.with}
        suggest={found}
        onChange={(terms) => onChange({ ...where, with: terms })}
      />
      <Terms
        label="But not at"
        none="nothing is left out"
        terms={where.without}
        suggest={found}
        onChange={(terms) => onChange({ ...where, without: terms })}
      />
    </div>
  );
}

interface Suggestion {
  readonly term: WhereTerm;
  readonly words: string;
}
/** Most that a list of suggestions shows. */
const SUGGESTED = 7;

function useSuggestions(): (typed: string) => readonly Suggestion[] {
  const machines = useMachines();
  const places = usePlacePaths();
  const all = machines.data ?? [];
  const groups = [...new Set(all.flatMap((machine) => machine.groups))].sort();
  return (typed) => {
    const like = typed.trim().toLowerCase();
    if (like === '') return [];
    const suggestions: Suggestion[] = [
      ...(places.data ?? []).map((path): Suggestion => ({
        term: { kind: 'place', path },
        words: `the place ${path}`,
      })),
      ...groups.map((group): Suggestion => ({
        term: { kind: 'machines', group },
        words: `machines of ${group}, ${all.filter((machine) => machine.groups.includes(group)).length}`,
      })),
      ...all.map(({ name, owner }): Suggestion => ({
        term: { kind: 'machine', machine: name },
        words: owner === '' ? name : `${name}, of ${owner}`,
      })),
      ...(like.startsWith('/')
        ? [{ term: { kind: 'place', path: typed.trim() } as const, words: `the place ${typed.trim()}` }]
        : []),
    ];
    const named = suggestions.filter(({ words }) => words.toLowerCase().includes(like));
    return [...new Map(named.map((each) => [each.words, each])).values()].slice(0, SUGGESTED);
  };
}

interface TermsProps {
  readonly label: string;
  readonly none: string;
  readonly terms: readonly WhereTerm[];
  readonly suggest: (typed: string) => readonly Suggestion[];
  readonly onChange: (terms: readonly WhereTerm[]) => void;
}

function Terms({ label, none, terms, suggest, onChange }: TermsProps) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const found = suggest(typed);
  const take = (term: WhereTerm) => {
    setTyped('');
    onChange([...terms, term]);
  };
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-[12.5px] font-semibold text-ink-2">
        {label}
      </label>
      <p className="mb-1 flex flex-wrap gap-1.5">
        {terms.length === 0 && <span className="text-ink-2">{none}</span>}
        {terms.map((term, index) => (
          <span key={`${term.kind} ${whereValue(term)}`} className="border border-rule-strong px-1.5">
            {whereTermWords(term)}{' '}
            <button
              type="button"
              aria-label={`Take out ${whereTermWords(term)}`}
              className="min-h-6 min-w-6 text-press"
              onClick={() => onChange(terms.filter((_each, at) => at !== index))}
            >
              ×
            </button>
          </span>
        ))}
      </p>
      <input
        id={id}
        className="field"
        placeholder="A machine, a group of machines, a place"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          if (found[0]) take(found[0].term);
        }}
      />
      {found.map(({ term, words }) => (
        <Button key={words} look="quiet" className="mr-1" onClick={() => take(term)}>
          {words}
        </Button>
      ))}
      {typed.trim() !== '' && found.length === 0 && (
        <p className="text-[12.5px] text-stop">The directory knows nothing like that.</p>
      )}
    </div>
  );
}
