import type { PersonView } from '@lantern/contracts';
import { type Audience, type AudienceTerm, isMeant } from '@lantern/core/directory';
import { usePeople } from '../../data/mail';
import { ChosenTerms, type Suggestion } from '../../ui/chosen-terms';
import { termWords } from '../../wording/audience';

interface Props {
  readonly audience: Audience;
  readonly onChange: (audience: Audience) => void;
}

const PLACEHOLDER = 'Name, department, group, office or domain';

/** Some people, chosen from the directory, with how many they come to. */
export function AudienceEditor({ audience, onChange }: Props) {
  const people = usePeople();
  const all = people.data ?? [];
  const meant = all.filter((person) => isMeant(audience, factsOf(person)));
  const side = (which: 'with' | 'without') => (terms: readonly AudienceTerm[]) =>
    onChange({ ...audience, [which]: terms });
  return (
    <div className="flex flex-col gap-3">
      <ChosenTerms
        label="For"
        none="everybody"
        placeholder={PLACEHOLDER}
        terms={audience.with}
        words={termWords}
        suggest={(typed) => suggestions(typed, all)}
        onChange={side('with')}
      />
      <ChosenTerms
        label="But not for"
        none="no exceptions"
        placeholder={PLACEHOLDER}
        terms={audience.without}
        words={termWords}
        suggest={(typed) => suggestions(typed, all)}
        onChange={side('without')}
      />
      <details>
        <summary className="cursor-pointer text-[12.5px] text-ink-2">
          That is {meant.length} of {all.length} people
        </summary>
        <p className="max-h-32 overflow-auto text-[12.5px]">
          {meant.map(({ name }) => name).join(', ') || 'No one in the directory.'}
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

/** Everything in the directory that is called like what was typed; groups of people first. */
export function suggestions(typed: string, people: readonly PersonView[]): Suggestion<AudienceTerm>[] {
  const like = typed.trim().toLowerCase();
  const count = (test: (person: PersonView) => boolean): number => people.filter(test).length;
  const distinct = (values: readonly string[]): string[] =>
    [...new Set(values)].filter((value) => value.toLowerCase().includes(like)).sort();
  const departments = distinct(people.map(({ department }) => department)).map(
    (department): Suggestion<AudienceTerm> => ({
      term: { kind: 'department', department },
      words: `${department}, ${count((person) => person.department === department)} people`,
    }),
  );
  const groups = distinct(people.flatMap((person) => person.groups))
    .filter((group) => !people.some(({ department }) => department === group))
    .map((group): Suggestion<AudienceTerm> => ({
      term: { kind: 'group', group },
      words: `group ${group}, ${count((person) => person.groups.includes(group))} people`,
    }));
  const offices = distinct(people.map(({ port }) => port)).map((office): Suggestion<AudienceTerm> => ({
    term: { kind: 'office', office },
    words: `office in ${office}, ${count((person) => person.port === office)} people`,
  }));
  const named = people
    .filter(({ name, address }) => name.toLowerCase().includes(like) || address.includes(like))
    .map(({ name, address, department }): Suggestion<AudienceTerm> => ({
      term: { kind: 'person', address },
      words: `${name}, ${department}`,
    }));
  const domain: Suggestion<AudienceTerm>[] = /^[a-z0-9-]+(\.[a-z0-9-]+)+$/.test(like)
    ? [{ term: { kind: 'domain', domain: like }, words: `anybody at ${like}` }]
    : [];
  return [...departments, ...groups, ...offices, ...named, ...domain];
}
