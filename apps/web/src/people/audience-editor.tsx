import type { PersonView } from '@lantern/contracts';
import { type Audience, type AudienceTerm, isMeant } from '@lantern/core';
import { useId, useState } from 'react';
import { usePeople } from '../data/mail';
import { Button } from '../ui/button';
import { termWords } from '../wording/sentence';

interface Props {
  readonly audience: Audience;
  readonly onChange: (audience: Audience) => void;
}

/** Some people, chosen from the directory, with how many they come to. */
export function AudienceEditor({ audience, onChange }: Props) {
  const people = usePeople();
  const all = people.data ?? [];
  const meant = all.filter((person) => isMeant(audience, factsOf(person)));
  const side = (which: 'with' | 'without') => (terms: readonly AudienceTerm[]) =>
    onChange({ ...audience, [which]: terms });
  return (
    <div className="flex flex-col gap-3">
      <Terms label="For" none="everybody" terms={audience.with} people={all} onChange={side('with')} />
      <Terms
        label="But not for"
        none="nobody is left out"
        terms={audience.without}
        people={all}
        onChange={side('without')}
      />
      <details>
        <summary className="cursor-pointer text-[12.5px] text-ink-2">
          That is {meant.length} of {all.length} people
        </summary>
        <p className="max-h-32 overflow-auto text-[12.5px]">
          {meant.map(({ name }) => name).join(', ') || 'Nobody in the directory.'}
        </p>
      </details>
    </div>
  );
}

export function factsOf({ address, groups, department, port }: PersonView) {
  return { address, groups, department, office: port };
}

/** How many of the directory an audience comes to. */
export function useReach(audience: Audience): { readonly meant: number; readonly all: number } {
  const people = usePeople();
  const all = people.data ?? [];
  return { meant: all.filter((person) => isMeant(audience, factsOf(person))).length, all: all.length };
}

interface TermsProps {
  readonly label: string;
  readonly none: string;
  readonly terms: readonly AudienceTerm[];
  readonly people: readonly PersonView[];
  readonly onChange: (terms: readonly AudienceTerm[]) => void;
}

/** Most that a list of suggestions shows. */
const SUGGESTED = 7;

function Terms({ label, none, terms, people, onChange }: TermsProps) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const found = typed.trim() === '' ? [] : suggestions(typed, people).slice(0, SUGGESTED);
  const take = (term: AudienceTerm) => {
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
          <span key={`${term.kind} ${termWords(term)}`} className="border border-rule-strong px-1.5">
            {termWords(term)}{' '}
            <button
              type="button"
              aria-label={`Take out ${termWords(term)}`}
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
        placeholder="A name, a department, a group, an office, a domain"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          if (found[0]) take(found[0].term);
        }}
      />
      {found.map(({ term, words }) => (
        <Button key={`${term.kind} ${words}`} look="quiet" className="mr-1" onClick={() => take(term)}>
          {words}
        </Button>
      ))}
      {typed.trim() !== '' && found.length === 0 && (
        <p className="text-[12.5px] text-stop">The directory knows nothing like that.</p>
      )}
    </div>
  );
}

interface Suggestion {
  readonly term: AudienceTerm;
  readonly words: string;
}

/** Everything in the directory that is called like what was typed; groups of people first. */
export function suggestions(typed: string, people: readonly PersonView[]): Suggestion[] {
  const like = typed.trim().toLowerCase();
  const count = (test: (person: PersonView) => boolean): number => people.filter(test).length;
  const distinct = (values: readonly string[]): string[] =>
    [...new Set(values)].filter((value) => value.toLowerCase().includes(like)).sort();
  const departments = distinct(people.map(({ department }) => department)).map((department): Suggestion => ({
    term: { kind: 'department', department },
    words: `${department}, ${count((person) => person.department === department)} people`,
  }));
  const groups = distinct(people.flatMap((person) => person.groups))
    .filter((group) => !people.some(({ department }) => department === group))
    .map((group): Suggestion => ({
      term: { kind: 'group', group },
      words: `group ${group}, ${count((person) => person.groups.includes(group))} people`,
    }));
  const offices = distinct(people.map(({ port }) => port)).map((office): Suggestion => ({
    term: { kind: 'office', office },
    words: `office in ${office}, ${count((person) => person.port === office)} people`,
  }));
  const named = people
    .filter(({ name, address }) => name.toLowerCase().includes(like) || address.includes(like))
    .map(({ name, address, department }): Suggestion => ({
      term: { kind: 'person', address },
      words: `${name}, ${department}`,
    }));
  const domain: Suggestion[] = /^[a-z0-9-]+(\.[a-z0-9-]+)+$/.test(like)
    ? [{ term: { kind: 'domain', domain: like }, words: `anybody at ${like}` }]
    : [];
  return [...departments, ...groups, ...offices, ...named, ...domain];
}
