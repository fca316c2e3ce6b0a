import { type AddressLine, readHost } from './address.js';
import type { CrossingSet, CrossingProblem } from './crossing-set.js';
import type { FlowService, Workspace } from './flow.js';
import { SITES } from './judge-automation.js';

/** What sets can name. */
export interface CrossingContext {
  readonly services: readonly FlowService[];
  readonly workspaces: readonly Workspace[];
  /** Ids of labels; null where they are not known. */
  readonly labels: ReadonlySet<string> | null;
  /** Names of the other sets. */
  readonly otherNames: readonly string[];
}

/** What is wrong with a set, in the order in which it is read. */
export function crossingProblems(set: CrossingSet, context: CrossingContext): CrossingProblem[] {
  const services = new Map(context.services.map((service) => [service.id, service]));
  const unknown = (ids: readonly string[]): CrossingProblem[] =>
    ids.filter((id) => !services.has(id)).map((value) => must('unknown-service', value));
  const name = set.name.trim();
  return [
    ...(name === '' ? [must('no-name', '')] : []),
    ...(context.otherNames.some((other) => same(other, name)) ? [must('duplicate-name', name)] : []),
    ...circleProblems(set),
    ...unknown([...set.circles.flatMap((circle) => circle.services), ...set.off]),
    ...set.off
      .filter((id) => set.circles.some((circle) => circle.services.includes(id)))
      .map((value): CrossingProblem => ({ code: 'off-and-in-a-circle', gravity: 'look', value })),
    ...operationProblems(set, services),
    ...addressProblems(set),
    ...unknown(set.addresses.map(({ service }) => service).filter((service) => service !== SITES)),
    ...[...set.workspaces.with, ...set.workspaces.without]
      .filter((id) => !context.workspaces.some((workspace) => workspace.id === id))
      .map((value) => must('unknown-workspace', value)),
    ...set.assistants.flatMap(({ fromLabel }) =>
      fromLabel !== null && context.labels && !context.labels.has(fromLabel)
        ? [must('unknown-label', fromLabel)]
        : [],
    ),
  ];
}

function circleProblems({ circles, arrows, laterServices }: CrossingSet): CrossingProblem[] {
  const ids = new Set(circles.map(({ id }) => id));
  const named = [
    ...arrows.flatMap(({ from, to }) => [from, to]),
    ...(laterServices.kind === 'joins' ? [laterServices.circle] : []),
  ];
  const first = new Map<string, string>();
  const twice: CrossingProblem[] = [];
  for (const circle of circles)
    for (const service of circle.services) {
      const other = first.get(service);
      if (other === undefined) first.set(service, circle.name);
      else
        twice.push({
          code: 'in-two-circles',
          gravity: 'must',
          value: service,
          other: `${other}, ${circle.name}`,
        });
    }
  return [
    ...circles.filter((circle) => circle.name.trim() === '').map(({ id }) => must('circle-without-name', id)),
    ...circles
      .filter((circle, at) => circles.findIndex((each) => same(each.name, circle.name)) < at)
      .map((circle) => must('duplicate-circle', circle.name)),
    ...twice,
    ...named.filter((id) => !ids.has(id)).map((value) => must('unknown-circle', value)),
  ];
}

function operationProblems(set: CrossingSet, services: ReadonlyMap<string, FlowService>): CrossingProblem[] {
  const seen = new Map<string, boolean>();
  return set.operations.flatMap(({ service, operation, allowed }): CrossingProblem[] => {
    const key = `${service} ${operation}`;
    const before = seen.get(key);
    seen.set(key, allowed);
    const known = services.get(service)?.operations.some(({ id }) => id === operation);
    return [
      ...(known ? [] : [must('unknown-operation', operation)]),
      ...(before !== undefined ? [must('operation-twice', operation)] : []),
    ];
  });
}

function addressProblems({ addresses }: CrossingSet): CrossingProblem[] {
  const services = addresses.map(({ service }) => service);
  return [
    ...services.filter((id, at) => services.indexOf(id) < at).map((value) => must('list-twice', value)),
    ...addresses.flatMap(({ lines }) =>
      lines.flatMap((line, at): CrossingProblem[] => {
        if (readHost(line.host) === null) return [must('not-a-host', line.host)];
        const before = lines.slice(0, at).find((other) => covers(other, line));
        return before
          ? [{ code: 'line-never-read', gravity: 'look', value: line.host, other: before.host }]
          : [];
      }),
    ),
  ];
}

/** Whether a line says something about every address that a later one names: then that one is never read. */
function covers(one: AddressLine, other: AddressLine): boolean {
  const [wide, narrow] = [readHost(one.host), readHost(other.host)];
  if (wide === null || narrow === null) return false;
  const host = wide === narrow ? one.under || !other.under : one.under && narrow.endsWith(`.${wide}`);
  const rest =
    (!one.scheme || one.scheme === other.scheme) &&
    (one.port === undefined || one.port === other.port) &&
    (!one.path || one.path === other.path);
  return host && rest;
}

const must = (code: CrossingProblem['code'], value: string): CrossingProblem => ({
  code,
  gravity: 'must',
  value,
});
const same = (one: string, other: string): boolean => one.trim().toLowerCase() === other.trim().toLowerCase();
