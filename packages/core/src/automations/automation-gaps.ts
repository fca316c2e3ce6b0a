import { circleOf, type CrossingSet, isInScope } from './crossing-set.js';
import { type AnyAutomation, AUDIENCES, type FlowService, type Workspace } from './flow.js';

/** Where no set guards anything. `running` counts automations that are switched on and use it. */
export type AutomationGap =
  /** No set holds in a workspace: what runs there may do anything. */
  | { readonly kind: 'workspace'; readonly workspace: string; readonly running: number }
  /** No set can hold a service to anything. */
  | { readonly kind: 'ungoverned'; readonly service: string; readonly why: string; readonly running: number }
  /** A service calls addresses and no list says which. */
  | { readonly kind: 'addresses'; readonly service: string; readonly running: number }
  /** Assistants that read this label may be for anybody and be published everywhere. */
  | { readonly kind: 'label'; readonly label: string; readonly running: number }
  /** Automations that go on because they are older than a set. */
  | { readonly kind: 'older'; readonly set: string; readonly running: number };

export interface GapsContext {
  readonly services: readonly FlowService[];
  readonly workspaces: readonly Workspace[];
  /** From the lowest rank on. */
  readonly labels: readonly { readonly id: string; readonly rank: number }[];
  /** Those that are switched on. */
  readonly running: Iterable<AnyAutomation>;
}

/** Everything about automations that nothing guards, in the order of the register. Time grows with the automations. */
export function automationGaps(
  sets: readonly CrossingSet[],
  { services, workspaces, labels, running }: GapsContext,
): AutomationGap[] {
  const inWorkspace = new Map<string, number>();
  const using = new Map<string, number>();
  const reading = new Map<string, number>();
  const older = new Map<string, number>();
  const count = (into: Map<string, number>, key: string): void =>
    void into.set(key, (into.get(key) ?? 0) + 1);
  for (const automation of running) {
    count(inWorkspace, automation.workspace);
    for (const service of servicesOf(automation)) count(using, service);
    for (const label of labelsOf(automation)) count(reading, label);
    for (const { id, since, workspaces: scope } of sets)
      if (
        since !== null &&
        automation.madeAt < since &&
        isInScope({ workspaces: scope }, automation.workspace)
      )
        count(older, id);
  }
  const unguarded = workspaces.filter(({ id }) => !sets.some((set) => isInScope(set, id)));
  return [
    ...unguarded.map(({ id }): AutomationGap => ({
      ...{ kind: 'workspace', workspace: id, running: inWorkspace.get(id) ?? 0 },
    })),
    ...services.flatMap(({ id, ungoverned, operations }): AutomationGap[] => {
      const uses = using.get(id) ?? 0;
      if (ungoverned !== null) return [{ kind: 'ungoverned', service: id, why: ungoverned, running: uses }];
      const isOpen = operations.some(({ takesAddress }) => takesAddress) && !hasAddresses(sets, id);
      return isOpen ? [{ kind: 'addresses', service: id, running: uses }] : [];
    }),
    ...labels
      .filter(({ rank }) => !isKept(sets, rank, labels))
      .map(({ id }): AutomationGap => ({ kind: 'label', label: id, running: reading.get(id) ?? 0 })),
    ...[...older].map(([set, uses]): AutomationGap => ({ kind: 'older', set, running: uses })),
  ];
}

/** Whether the addresses of a service are named in some set, or no set lets it be used at all. */
function hasAddresses(sets: readonly CrossingSet[], service: string): boolean {
  const isUsed = sets.some((set) => !set.off.includes(service) && circleOf(set, service) !== null);
  return !isUsed || sets.some(({ addresses }) => addresses.some((list) => list.service === service));
}

/** Whether some line about assistants asks anything of what reads a label of this rank. */
function isKept(sets: readonly CrossingSet[], rank: number, labels: GapsContext['labels']): boolean {
  const rankOf = (id: string | null): number =>
    id === null ? 0 : (labels.find((label) => label.id === id)?.rank ?? Infinity);
  const widest = AUDIENCES.at(-1);
  return sets.some(({ assistants }) =>
    assistants.some(({ fromLabel, audience }) => rankOf(fromLabel) <= rank && audience !== widest),
  );
}

function servicesOf(automation: AnyAutomation): Set<string> {
  const used = new Set(automation.steps.map(({ service }) => service));
  if (automation.kind === 'assistant')
    for (const source of automation.sources) if (source.kind === 'service') used.add(source.service);
  return used;
}

function labelsOf(automation: AnyAutomation): Set<string> {
  const found = new Set<string>();
  if (automation.kind === 'assistant')
    for (const source of automation.sources)
      if ((source.kind === 'place' || source.kind === 'file') && source.label !== null)
        found.add(source.label);
  return found;
}
