import type { CrossingsView } from '@lantern/contracts/crossings';
import type {
  AddressFault,
  BreachNames,
  Crossing,
  CrossingProblem,
  Doing,
  WorkspaceKind,
} from '@lantern/core/automations';

/** A number with its noun. */
export const countOf = (count: number, one: string, many = `${one}s`): string =>
  `${count} ${count === 1 ? one : many}`;

export const DOING_WORDS: Readonly<Record<Doing, string>> = {
  reads: 'reads',
  writes: 'writes',
  sends: 'sends',
  publishes: 'publishes',
};
export const WORKSPACE_WORDS: Readonly<Record<WorkspaceKind, string>> = {
  trial: 'trial',
  team: 'team',
  live: 'live',
};
export const AUTOMATION_WORDS = { flow: 'flow', assistant: 'assistant' } as const;

export const ADDRESS_FAULT_WORDS: Readonly<Record<AddressFault, string>> = {
  empty: 'Type an address.',
  'control-characters': 'It has characters in it that nobody can see. Such an address is refused.',
  'made-at-run-time':
    'It is put together only while the flow runs, so nobody can check it before. It is refused.',
  'no-scheme': 'It has no scheme, such as https://. It is refused.',
  'scheme-unknown': 'Its scheme cannot be checked. It is refused.',
  'no-host': 'It has no host. It is refused.',
  unreadable: 'It cannot be read as an address. It is refused.',
};

const PROBLEMS: Readonly<Record<CrossingProblem['code'], (problem: CrossingProblem) => string>> = {
  'no-name': () => 'A set has no name.',
  'duplicate-name': ({ value }) => `Another set is called "${value}" too.`,
  'in-two-circles': ({ value, other }) => `"${value}" is in two circles (${other ?? ''}). Leave it in one.`,
  'circle-without-name': () => 'A circle has no name.',
  'duplicate-circle': ({ value }) => `Two circles are called "${value}".`,
  'unknown-service': ({ value }) => `The service "${value}" is not in the register.`,
  'unknown-operation': ({ value }) => `The operation "${value}" is not in the register.`,
  'unknown-circle': ({ value }) => `There is no circle "${value}" any more.`,
  'unknown-workspace': ({ value }) => `There is no workspace "${value}" any more.`,
  'unknown-label': ({ value }) => `There is no label "${value}" any more.`,
  'not-a-host': ({ value }) => `"${value}" is no host. Write only the name, as tides.example.`,
  'operation-twice': ({ value }) => `The operation "${value}" stands here twice.`,
  'list-twice': ({ value }) => `"${value}" has two address lists. Leave one.`,
  'line-never-read': ({ value, other }) =>
    `The line for ${value} is never read, since the line for ${other ?? ''} above it says something about every address it names.`,
  'off-and-in-a-circle': ({ value }) => `"${value}" is switched off, so its circle does not count.`,
};

export const crossingProblemSentence = (problem: CrossingProblem): string => PROBLEMS[problem.code](problem);

/** Names of what breaches and cells point to. */
export function namesIn(view: CrossingsView | undefined, labels: ReadonlyMap<string, string>): BreachNames {
  const services = new Map((view?.services ?? []).map(({ service }) => [service.id, service]));
  const sets = new Map((view?.sets ?? []).map(({ set }) => [set.id, set]));
  return {
    service: (id) => services.get(id)?.name ?? id,
    operation: (service, id) => services.get(service)?.operations.find((each) => each.id === id)?.name || id,
    circle: (set, id) => sets.get(set ?? '')?.circles.find((circle) => circle.id === id)?.name ?? id,
    label: (id) => labels.get(id) ?? id,
  };
}

/** Why a cell of the table is as it is. */
export function cellSentence({ reason }: Crossing, set: string, names: BreachNames): string {
  switch (reason.code) {
    case 'same-service':
      return 'It is the same service.';
    case 'same-circle':
      return `Both are in ${names.circle(set, reason.circle)}.`;
    case 'arrow':
      return `An arrow leads from ${names.circle(set, reason.from)} to ${names.circle(set, reason.to)}.`;
    case 'no-arrow':
      return `No arrow leads from ${names.circle(set, reason.from)} to ${names.circle(set, reason.to)}.`;
    case 'service-off':
      return `${names.service(reason.service)} is switched off.`;
    case 'service-later':
      return `${names.service(reason.service)} is in no circle, and new services are refused.`;
  }
}
