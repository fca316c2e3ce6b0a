import type { Whereabouts, WhereTerm } from '@lantern/core/policy';
import { useMachines, usePlacePaths } from '../../data/policies';
import { ChosenTerms, type Suggestion } from '../../ui/chosen-terms';
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
      <ChosenTerms
        placeholder="Machine, group of machines or place"
        words={whereTermWords}
        label="Only at"
        none="everywhere"
        terms={where.with}
        suggest={found}
        onChange={(terms) => onChange({ ...where, with: terms })}
      />
      <ChosenTerms
        placeholder="Machine, group of machines or place"
        words={whereTermWords}
        label="But not at"
        none="no exceptions"
        terms={where.without}
        suggest={found}
        onChange={(terms) => onChange({ ...where, without: terms })}
      />
    </div>
  );
}

function useSuggestions(): (typed: string) => readonly Suggestion<WhereTerm>[] {
  const machines = useMachines();
  const places = usePlacePaths();
  const all = machines.data ?? [];
  const groups = [...new Set(all.flatMap((machine) => machine.groups))].sort();
  return (typed) => {
    const like = typed.trim().toLowerCase();
    const suggestions: Suggestion<WhereTerm>[] = [
      ...(places.data ?? []).map((path): Suggestion<WhereTerm> => ({
        term: { kind: 'place', path },
        words: `the place ${path}`,
      })),
      ...groups.map((group): Suggestion<WhereTerm> => ({
        term: { kind: 'machines', group },
        words: `machines of ${group}, ${all.filter((machine) => machine.groups.includes(group)).length}`,
      })),
      ...all.map(({ name, owner }): Suggestion<WhereTerm> => ({
        term: { kind: 'machine', machine: name },
        words: owner === '' ? name : `${name}, of ${owner}`,
      })),
      ...(like.startsWith('/')
        ? [{ term: { kind: 'place', path: typed.trim() } as const, words: `the place ${typed.trim()}` }]
        : []),
    ];
    const named = suggestions.filter(({ words }) => words.toLowerCase().includes(like));
    return [...new Map(named.map((each) => [each.words, each])).values()];
  };
}
