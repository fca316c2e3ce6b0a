import { type AddressFault, judgeAddress, readAddress } from './address.js';
import { operationNamed } from './arazzo.js';
import { circleOf, crossing, type CrossingReason, type CrossingSet, isInScope } from './crossing-set.js';
import {
  type AnyAutomation,
  type Assistant,
  type AssistantAudience,
  AUDIENCES,
  type Flow,
  type FlowService,
  type FlowStep,
  type Outlet,
} from './flow.js';

/** What sets are judged with: the register, and labels by rank. */
export interface Register {
  readonly services: ReadonlyMap<string, FlowService>;
  readonly labels: ReadonlyMap<string, { readonly name: string; readonly rank: number }>;
  /**
   * Labels that places carry now, by name; null for none. What a document says about the label of a place is believed only
   * where the place is not among them.
   */
  readonly places?: ReadonlyMap<string, string | null>;
}

/** Why something may not run. Steps are ids; a breach between two steps names both. */
export type BreachReason =
  | { readonly code: 'service-gone'; readonly service: string }
  | { readonly code: 'operation-gone'; readonly service: string; readonly operation: string }
  | { readonly code: 'step-gone'; readonly step: string }
  | {
      readonly code: 'operation-off' | 'operation-later';
      readonly service: string;
      readonly operation: string;
    }
  | { readonly code: 'address'; readonly service: string; readonly fault: AddressFault }
  | {
      readonly code: 'address-refused';
      readonly service: string;
      readonly address: string;
      /** The line that decided, from 0; null where no line names it. */
      readonly line: number | null;
    }
  | { readonly code: 'audience'; readonly label: string | null; readonly widest: AssistantAudience }
  | { readonly code: 'outlet'; readonly label: string | null; readonly outlet: Outlet }
  | CrossingReason;

export interface Breach {
  /** Id of the set that says so; null for what no set has to say. */
  readonly set: string | null;
  readonly steps: readonly string[];
  /** From which service to which, for what may not cross. */
  readonly from?: string;
  readonly to?: string;
  readonly reason: BreachReason;
}

/** What one set had to say. */
export interface SetTrace {
  readonly set: string;
  readonly binds: 'yes' | 'other-workspace' | 'older';
  readonly breaches: number;
}

export interface AutomationVerdict {
  readonly runs: boolean;
  /** What keeps it from running. */
  readonly breaches: readonly Breach[];
  /** What sets that bind newer ones only would say: it goes on, and is listed. */
  readonly older: readonly Breach[];
  /** Services of it that no set can hold to anything, with the reason. */
  readonly ungoverned: readonly { readonly service: string; readonly why: string }[];
  /** Highest label of what an assistant reads; null for none, and for flows. */
  readonly label: string | null;
  readonly trace: readonly SetTrace[];
}

/** Breaches of one automation that are told; the rest is alike. */
const MOST_BREACHES = 200;

/** Judges a flow or an assistant by all sets: they add up, and the strictest wins. */
export function judgeAutomation(
  given: AnyAutomation,
  sets: readonly CrossingSet[],
  register: Register,
): AutomationVerdict {
  const automation = withOperations(given, register);
  const steps: readonly FlowStep[] =
    automation.kind === 'flow' ? automation.steps : automation.steps.map((step) => ({ ...step, after: [] }));
  const broken = brokenSteps(steps, register);
  const pairs =
    automation.kind === 'flow' ? meetings(automation, register) : assistantMeetings(automation, register);
  const label = automation.kind === 'assistant' ? highestLabel(automation, register) : null;
  const breaches: Breach[] = [...broken];
  const older: Breach[] = [];
  const trace: SetTrace[] = [];
  for (const set of sets) {
    if (!isInScope(set, automation.workspace)) {
      trace.push({ set: set.id, binds: 'other-workspace', breaches: 0 });
      continue;
    }
    const found = [
      ...stepBreaches(set, steps, register),
      ...pairs.flatMap((pair) => crossingBreach(set, pair)),
      ...(automation.kind === 'assistant' ? assistantBreaches(set, automation, { label, register }) : []),
    ];
    const isOlder = set.since !== null && automation.madeAt < set.since;
    trace.push({ set: set.id, binds: isOlder ? 'older' : 'yes', breaches: found.length });
    (isOlder ? older : breaches).push(...found);
  }
  const used = new Set(steps.map(({ service }) => service));
  return {
    runs: breaches.length === 0,
    breaches: breaches.slice(0, MOST_BREACHES),
    older: older.slice(0, MOST_BREACHES),
    ungoverned: [...used].flatMap((service) => {
      const why = register.services.get(service)?.ungoverned;
      return why ? [{ service, why }] : [];
    }),
    label,
    trace,
  };
}

/** Operations by their ids, also where the document names them as OpenAPI does. */
function withOperations(automation: AnyAutomation, { services }: Register): AnyAutomation {
  const named = <Step extends Pick<FlowStep, 'service' | 'operation'>>(step: Step): Step => ({
    ...step,
    operation: operationNamed(services.get(step.service), step.operation)?.id ?? step.operation,
  });
  return automation.kind === 'flow'
    ? { ...automation, steps: automation.steps.map(named) }
    : { ...automation, steps: automation.steps.map(named) };
}

/** Steps that name what is not there: no set decides about these. */
function brokenSteps(steps: readonly FlowStep[], { services }: Register): Breach[] {
  // Before there is a register nobody can name what stands in it.
  if (services.size === 0) return [];
  const ids = new Set(steps.map(({ id }) => id));
  return steps.flatMap(({ id, service, operation, after }): Breach[] => {
    const at = (reason: BreachReason): Breach => ({ set: null, steps: [id], reason });
    const known = services.get(service);
    const lost = after.filter((step) => !ids.has(step)).map((step) => at({ code: 'step-gone', step }));
    if (!known) return [at({ code: 'service-gone', service }), ...lost];
    return known.operations.some((each) => each.id === operation)
      ? lost
      : [at({ code: 'operation-gone', service, operation }), ...lost];
  });
}

/** Data of one service reaches a step of another. */
interface Meeting {
  readonly from: string;
  readonly to: string;
  /** One step that takes data out of the first, and the first step that puts it into the second. */
  readonly steps: readonly [string, string] | readonly [string];
}

const TAKES = new Set(['reads']);

const doesOf = ({ services }: Register, { service, operation }: Pick<FlowStep, 'service' | 'operation'>) =>
  services.get(service)?.operations.find(({ id }) => id === operation)?.does ?? [];

/**
 * Which services' data reaches which: what a step reads flows on to every step behind it, through loops as well. Each pair
 * of services is told once, with the first two steps that make it. Time grows with the steps and their links, times the
 * number of services that are read.
 */
export function meetings({ steps }: Pick<Flow, 'steps'>, register: Register): Meeting[] {
  const behind = new Map<string, FlowStep[]>();
  for (const step of steps)
    for (const before of step.after) {
      const known = behind.get(before);
      if (known) known.push(step);
      else behind.set(before, [step]);
    }
  // Which services' data stands at a step, with the step that read it first.
  const standing = new Map<string, Map<string, string>>();
  const open: FlowStep[] = [];
  const put = (step: FlowStep, service: string, reader: string): boolean => {
    const here = standing.get(step.id) ?? new Map<string, string>();
    standing.set(step.id, here);
    if (here.has(service)) return false;
    here.set(service, reader);
    return true;
  };
  for (const step of steps) {
    const reads = doesOf(register, step).some((does) => TAKES.has(does));
    // Of an operation nobody knows anything may come.
    if (reads || doesOf(register, step).length === 0) {
      put(step, step.service, step.id);
      open.push(step);
    }
  }
  for (let step = open.pop(); step; step = open.pop()) {
    const here = standing.get(step.id) ?? new Map<string, string>();
    for (const next of behind.get(step.id) ?? []) {
      let isMore = false;
      for (const [service, reader] of here) isMore = put(next, service, reader) || isMore;
      if (isMore) open.push(next);
    }
  }
  const found = new Map<string, Meeting>();
  for (const step of steps) {
    const does = doesOf(register, step);
    const gives = does.length === 0 || does.some((each) => !TAKES.has(each)) || step.address !== undefined;
    if (!found.has(`${step.service}>${step.service}`))
      found.set(`${step.service}>${step.service}`, {
        from: step.service,
        to: step.service,
        steps: [step.id],
      });
    if (!gives) continue;
    for (const [service, reader] of standing.get(step.id) ?? []) {
      const key = `${service}>${step.service}`;
      if (!found.has(key)) found.set(key, { from: service, to: step.service, steps: [reader, step.id] });
    }
  }
  return [...found.values()];
}

/** What an assistant reads meets everything it may do. */
function assistantMeetings({ sources, steps }: Assistant, register: Register): Meeting[] {
  const read = [...new Set(sources.flatMap((source) => (source.kind === 'service' ? [source.service] : [])))];
  const own = steps.flatMap((step): Meeting[] => [
    { from: step.service, to: step.service, steps: [step.id] },
  ]);
  const pairs = steps.flatMap((step) => {
    const gives = doesOf(register, step).some((each) => !TAKES.has(each));
    const readers = steps.filter((other) => doesOf(register, other).some((each) => TAKES.has(each)));
    if (!gives) return [];
    return [
      ...read.map((from): Meeting => ({ from, to: step.service, steps: [step.id] })),
      ...readers
        .filter((other) => other.service !== step.service)
        .map((other): Meeting => ({ from: other.service, to: step.service, steps: [other.id, step.id] })),
    ];
  });
  const alone = read.map((from): Meeting => ({ from, to: from, steps: [''] }));
  const all = new Map([...own, ...alone, ...pairs].map((pair) => [`${pair.from}>${pair.to}`, pair]));
  return [...all.values()];
}

function crossingBreach(set: CrossingSet, { from, to, steps }: Meeting): Breach[] {
  const { allowed, reason } = crossing(set, from, to);
  if (allowed) return [];
  // A service that may not be used at all is told once, at its own step.
  const isOwn = reason.code === 'service-off' || reason.code === 'service-later';
  if (isOwn && (from !== to || reason.service !== from)) return [];
  return [{ set: set.id, steps: steps.filter((step) => step !== ''), from, to, reason }];
}

function stepBreaches(set: CrossingSet, steps: readonly FlowStep[], register: Register): Breach[] {
  return steps.flatMap(({ id, service, operation, address }): Breach[] => {
    const known = register.services.get(service)?.operations.find((each) => each.id === operation);
    if (!known || set.off.includes(service)) return [];
    const at = (reason: BreachReason): Breach => ({ set: set.id, steps: [id], reason });
    const exception = set.operations.find((each) => each.service === service && each.operation === operation);
    const isLater =
      circleOf(set, service)?.because === 'named' &&
      set.knownOperations[service] !== undefined &&
      !set.knownOperations[service].includes(operation);
    const operations =
      exception?.allowed === false
        ? [at({ code: 'operation-off', service, operation })]
        : isLater && !exception && set.laterOperations === 'refused'
          ? [at({ code: 'operation-later', service, operation })]
          : [];
    return [...operations, ...addressBreach(set, { service, address, takes: known.takesAddress }).map(at)];
  });
}

function addressBreach(
  set: CrossingSet,
  {
    service,
    address,
    takes,
  }: { readonly service: string; readonly address: string | undefined; readonly takes: boolean },
): BreachReason[] {
  const list = set.addresses.find((each) => each.service === service);
  if (!list || !takes) return [];
  const read = readAddress(address ?? '');
  if (read.status === 'fault') return [{ code: 'address', service, fault: read.fault }];
  const { allowed, line } = judgeAddress(list, read.address);
  return allowed ? [] : [{ code: 'address-refused', service, address: address ?? '', line }];
}

/** The highest label of what an assistant reads: its own. */
export function highestLabel(
  { sources }: Pick<Assistant, 'sources'>,
  { labels, places }: Pick<Register, 'labels' | 'places'>,
): string | null {
  let best: string | null = null;
  for (const source of sources) {
    if (source.kind !== 'place' && source.kind !== 'file') continue;
    const known = source.kind === 'place' ? places?.get(source.name) : undefined;
    const label = known === undefined ? source.label : known;
    const rank = label === null ? undefined : labels.get(label)?.rank;
    if (rank === undefined) continue;
    if (best === null || rank > (labels.get(best)?.rank ?? 0)) best = label;
  }
  return best;
}

function assistantBreaches(
  set: CrossingSet,
  { audience, published, sources }: Assistant,
  { label, register }: { readonly label: string | null; readonly register: Register },
): Breach[] {
  const rank = label === null ? 0 : (register.labels.get(label)?.rank ?? 0);
  const at = (reason: BreachReason): Breach => ({ set: set.id, steps: [], reason });
  const rules = set.assistants.flatMap(({ fromLabel, audience: widest, outlets }): Breach[] => {
    const least = fromLabel === null ? 0 : (register.labels.get(fromLabel)?.rank ?? Infinity);
    if (rank < least) return [];
    const because = fromLabel === null ? null : label;
    return [
      ...(AUDIENCES.indexOf(audience) > AUDIENCES.indexOf(widest)
        ? [at({ code: 'audience', label: because, widest })]
        : []),
      ...published
        .filter((outlet) => !outlets.includes(outlet))
        .map((outlet) => at({ code: 'outlet', label: because, outlet })),
    ];
  });
  const sites = sources.flatMap((source) => {
    if (source.kind !== 'site') return [];
    return set.addresses
      .filter(({ service }) => service === SITES)
      .flatMap(({ service }) => addressBreach(set, { service, address: source.address, takes: true }))
      .map(at);
  });
  return [...rules, ...sites];
}

/** The address list of this name is about the sites that assistants read. */
export const SITES = 'sites';

/** What may stand in the place of a breach, so that whoever builds can choose it: services, operations or hosts. */
export interface Alternatives {
  readonly kind: 'services' | 'operations' | 'hosts' | 'none';
  /** Ids of services or operations, or hosts as lists name them. */
  readonly values: readonly string[];
}

const MOST_ALTERNATIVES = 8;

/** What the sets that bind here would all allow instead. */
export function alternatives(breach: Breach, sets: readonly CrossingSet[], register: Register): Alternatives {
  const { reason } = breach;
  switch (reason.code) {
    case 'no-arrow':
      return some('services', otherTargets(breach, sets, register));
    case 'operation-off':
    case 'operation-later':
      return some('operations', otherOperations(reason, sets, register));
    case 'address':
    case 'address-refused': {
      const lists = sets.flatMap((set) => set.addresses.filter(({ service }) => service === reason.service));
      const hosts = lists.flatMap(({ lines }) =>
        lines.filter(({ allow }) => allow).map(({ host, under }) => (under ? `*.${host}` : host)),
      );
      return some('hosts', [...new Set(hosts)]);
    }
    default:
      return some('none', []);
  }
}

const some = (kind: Alternatives['kind'], values: readonly string[]): Alternatives =>
  values.length === 0 ? { kind: 'none', values } : { kind, values: values.slice(0, MOST_ALTERNATIVES) };

/** Services into which the data could go. */
function otherTargets({ from, to }: Breach, sets: readonly CrossingSet[], { services }: Register): string[] {
  const takes = ({ operations }: FlowService): boolean =>
    operations.some(({ does }) => does.some((each) => !TAKES.has(each)));
  return [...services.values()]
    .filter((service) => service.id !== from && service.id !== to && takes(service))
    .filter(({ id }) => sets.every((set) => crossing(set, from ?? '', id).allowed))
    .map(({ id }) => id);
}

function otherOperations(
  { service, operation }: { readonly service: string; readonly operation: string },
  sets: readonly CrossingSet[],
  { services }: Register,
): string[] {
  const isOff = (id: string): boolean =>
    sets.some((set) =>
      set.operations.some((each) => each.service === service && each.operation === id && !each.allowed),
    );
  return (services.get(service)?.operations ?? [])
    .map(({ id }) => id)
    .filter((id) => id !== operation && !isOff(id));
}
