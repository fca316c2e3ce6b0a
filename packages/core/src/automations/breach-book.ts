import type { CrossingSet } from './crossing-set.js';
import type { AnyAutomation } from './flow.js';
import { type AutomationVerdict, judgeAutomation, type Register } from './judge-automation.js';

/**
 * Services about which two lists of sets may say different things; null where the difference can touch any automation. A
 * change of circles touches the services that left or joined one, and those of circles whose arrows changed.
 */
export function touchedServices(
  before: readonly CrossingSet[],
  after: readonly CrossingSet[],
): ReadonlySet<string> | null {
  const touched = new Set<string>();
  for (const id of new Set([...before, ...after].map((set) => set.id))) {
    const one = before.find((set) => set.id === id);
    const other = after.find((set) => set.id === id);
    if (!one || !other || !isSame(wideParts(one), wideParts(other))) return null;
    for (const service of changed(one, other)) touched.add(service);
  }
  return touched;
}

/** What of a set is about everything at once. */
const wideParts = ({
  workspaces,
  laterServices,
  laterOperations,
  assistants,
  since,
}: CrossingSet): unknown => [workspaces, laterServices, laterOperations, assistants, since];

function changed(one: CrossingSet, other: CrossingSet): string[] {
  const circleIds = (set: CrossingSet): Map<string, string> =>
    new Map(set.circles.flatMap(({ id, services }) => services.map((service) => [service, id])));
  const [left, right] = [circleIds(one), circleIds(other)];
  const moved = [...new Set([...left.keys(), ...right.keys()])].filter(
    (service) => left.get(service) !== right.get(service),
  );
  const arrows = (set: CrossingSet): Set<string> =>
    new Set(set.arrows.map(({ from, to }) => `${from}\n${to}`));
  const [were, are] = [arrows(one), arrows(other)];
  const circles = [...were, ...are]
    .filter((arrow) => were.has(arrow) !== are.has(arrow))
    .flatMap((arrow) => arrow.split('\n'));
  const inCircles = [...one.circles, ...other.circles]
    .filter(({ id }) => circles.includes(id))
    .flatMap(({ services }) => services);
  const lists = differing(one.addresses, other.addresses, ({ service }) => service);
  const operations = differing(
    one.operations,
    other.operations,
    ({ service, operation }) => `${service}\n${operation}`,
  );
  const known = differing(
    Object.entries(one.knownOperations),
    Object.entries(other.knownOperations),
    ([service]) => service,
  );
  const off = [...one.off, ...other.off].filter((id) => one.off.includes(id) !== other.off.includes(id));
  return [
    ...moved,
    ...inCircles,
    ...lists,
    ...operations.map((key) => key.split('\n')[0] ?? ''),
    ...known,
    ...off,
  ];
}

/** Keys of what differs between two lists. */
function differing<Thing>(
  before: readonly Thing[],
  after: readonly Thing[],
  keyOf: (thing: Thing) => string,
): string[] {
  const texts = (all: readonly Thing[]): Map<string, string> =>
    new Map(all.map((thing) => [keyOf(thing), JSON.stringify(thing)]));
  const [one, other] = [texts(before), texts(after)];
  return [...new Set([...one.keys(), ...other.keys()])].filter((key) => one.get(key) !== other.get(key));
}

const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

interface Entry {
  readonly automation: AnyAutomation;
  readonly services: readonly string[];
  verdict: AutomationVerdict;
}

/** Verdicts of many automations: when sets change, only what the change touches is judged again. */
export class BreachBook {
  private readonly entries = new Map<string, Entry>();
  private byService = new Map<string, Set<string>>();
  /** Automations that were judged since the last change; for measurements. */
  judged = 0;

  constructor(
    private register: Register,
    private sets: readonly CrossingSet[],
  ) {}

  get size(): number {
    return this.entries.size;
  }

  *verdicts(): Iterable<{ readonly automation: AnyAutomation; readonly verdict: AutomationVerdict }> {
    yield* this.entries.values();
  }

  verdictOf(id: string): AutomationVerdict | null {
    return this.entries.get(id)?.verdict ?? null;
  }

  /** Adds an automation, or replaces it. */
  put(automation: AnyAutomation): AutomationVerdict {
    this.drop(automation.id);
    const services = servicesOf(automation);
    const verdict = judgeAutomation(automation, this.sets, this.register);
    this.judged += 1;
    this.entries.set(automation.id, { automation, services, verdict });
    for (const service of services) {
      const known = this.byService.get(service);
      if (known) known.add(automation.id);
      else this.byService.set(service, new Set([automation.id]));
    }
    return verdict;
  }

  drop(id: string): void {
    for (const service of this.entries.get(id)?.services ?? []) this.byService.get(service)?.delete(id);
    this.entries.delete(id);
  }

  /** Other sets, or another register. A register that differs judges everything again. */
  change(sets: readonly CrossingSet[], register: Register = this.register): void {
    const touched = register === this.register ? touchedServices(this.sets, sets) : null;
    this.sets = sets;
    this.register = register;
    this.judged = 0;
    const ids = touched
      ? new Set([...touched].flatMap((service) => [...(this.byService.get(service) ?? [])]))
      : this.entries.keys();
    for (const id of ids) {
      const entry = this.entries.get(id);
      if (!entry) continue;
      entry.verdict = judgeAutomation(entry.automation, sets, register);
      this.judged += 1;
    }
  }
}

function servicesOf(automation: AnyAutomation): string[] {
  const steps = automation.steps.map(({ service }) => service);
  const read =
    automation.kind === 'assistant'
      ? automation.sources.map((source) => (source.kind === 'service' ? source.service : 'sites'))
      : [];
  return [...new Set([...steps, ...read])];
}
