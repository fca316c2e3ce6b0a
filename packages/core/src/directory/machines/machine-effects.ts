import type { AudienceEffect } from '../change/audience-effect.js';

/** What names a machine, or a group of them. */
export type MachineTerm =
  | { readonly kind: 'machine'; readonly machine: string }
  | { readonly kind: 'machines'; readonly group: string };

/** Something that is for some machines. */
export interface NamedMachines {
  /** What it belongs to, as its reader knows it. */
  readonly of: string;
  readonly with: readonly MachineTerm[];
  readonly without: readonly MachineTerm[];
  /** Nothing is named that it is for, not even a place: it is for every machine that is not left out. */
  readonly everywhere: boolean;
}

interface MachineFacts {
  readonly name: string;
  readonly groups: readonly string[];
}

/** A machine before and after a change; null where it was not, or will not be, in the directory. */
export interface MachineStep {
  readonly before: MachineFacts | null;
  readonly after: MachineFacts | null;
}

const EXAMPLES = 5;

/** What would be for other machines after a change, each thing once. */
export function machineEffects(
  named: readonly NamedMachines[],
  steps: readonly MachineStep[],
): AudienceEffect[] {
  const joins = new Map<string, Set<string>>();
  const leaves = new Map<string, Set<string>>();
  for (const one of named)
    for (const { before, after } of steps) {
      const was = before !== null && isFor(one, before);
      const is = after !== null && isFor(one, after);
      if (was === is) continue;
      const found = is ? joins : leaves;
      const names = found.get(one.of) ?? new Set<string>();
      found.set(one.of, names.add((after ?? before)?.name ?? ''));
    }
  return [...new Set([...joins.keys(), ...leaves.keys()])].map((of) => {
    const [joining, leaving] = [joins.get(of) ?? [], leaves.get(of) ?? []].map((names) => [...names]);
    return {
      ...{ of, joining: joining?.length ?? 0, leaving: leaving?.length ?? 0 },
      examples: [...(joining ?? []), ...(leaving ?? [])].slice(0, EXAMPLES),
    };
  });
}

function isFor(one: NamedMachines, machine: MachineFacts): boolean {
  const fits = (term: MachineTerm): boolean =>
    term.kind === 'machine'
      ? same(term.machine, machine.name)
      : machine.groups.some((group) => same(group, term.group));
  return !one.without.some(fits) && (one.everywhere || one.with.some(fits));
}

const same = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase();
