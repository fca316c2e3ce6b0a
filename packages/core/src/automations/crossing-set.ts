import type { AddressList } from './address.js';
import type { AssistantAudience, Outlet } from './flow.js';

/** Services among which everything may meet. */
export interface Circle {
  readonly id: string;
  readonly name: string;
  readonly services: readonly string[];
}

/** Data may go from one circle to another. */
export interface CircleArrow {
  readonly from: string;
  readonly to: string;
}

/** One operation that is allowed or not, whatever else is said. */
export interface OperationException {
  readonly service: string;
  readonly operation: string;
  readonly allowed: boolean;
}

/** What holds for a service that no line of the set names. */
export type LaterService = { readonly kind: 'refused' } | { readonly kind: 'joins'; readonly circle: string };

/** What assistants may not be, given what they read or do. */
export interface AssistantRule {
  /** Holds from this label on, by rank; null for every assistant. */
  readonly fromLabel: string | null;
  /** The widest audience. */
  readonly audience: AssistantAudience;
  /** Where such an assistant may be published. */
  readonly outlets: readonly Outlet[];
}

/** Which workspaces a set is about: those it names, or all; less those it leaves out. */
export interface WorkspaceScope {
  readonly with: readonly string[];
  readonly without: readonly string[];
}

/** What may cross from service to service. Sets add up: what one refuses, no other allows. */
export interface CrossingSet {
  readonly id: string;
  readonly name: string;
  readonly workspaces: WorkspaceScope;
  readonly circles: readonly Circle[];
  readonly arrows: readonly CircleArrow[];
  /** Services that nothing may use. */
  readonly off: readonly string[];
  readonly operations: readonly OperationException[];
  readonly laterServices: LaterService;
  /** Operations that were there when the set was saved, by service: others are new. */
  readonly knownOperations: Readonly<Record<string, readonly string[]>>;
  readonly laterOperations: 'allowed' | 'refused';
  readonly addresses: readonly AddressList[];
  readonly assistants: readonly AssistantRule[];
  /** Binds what was made or changed since, in milliseconds since 1970, UTC; null for everything. */
  readonly since: number | null;
}

export function isInScope({ workspaces }: Pick<CrossingSet, 'workspaces'>, workspace: string): boolean {
  if (workspaces.without.includes(workspace)) return false;
  return workspaces.with.length === 0 || workspaces.with.includes(workspace);
}

/** The circle of a service under a set, and what says so; null where it has none. */
export interface CircleOf {
  readonly circle: Circle;
  readonly because: 'named' | 'later';
}

export function circleOf(
  set: Pick<CrossingSet, 'circles' | 'laterServices'>,
  service: string,
): CircleOf | null {
  const named = set.circles.find(({ services }) => services.includes(service));
  if (named) return { circle: named, because: 'named' };
  const { laterServices: later } = set;
  const joined = later.kind === 'joins' ? set.circles.find(({ id }) => id === later.circle) : undefined;
  return joined ? { circle: joined, because: 'later' } : null;
}

/** Why data may go from one service to another, or may not. Names are ids of circles. */
export type CrossingReason =
  | { readonly code: 'same-service' }
  | { readonly code: 'same-circle'; readonly circle: string }
  | { readonly code: 'arrow'; readonly from: string; readonly to: string }
  | { readonly code: 'no-arrow'; readonly from: string; readonly to: string }
  | { readonly code: 'service-off'; readonly service: string }
  | { readonly code: 'service-later'; readonly service: string };

export interface Crossing {
  readonly allowed: boolean;
  readonly reason: CrossingReason;
}

/** One cell of the table: whether a set lets data go from one service to another, with what says so. */
export function crossing(set: CrossingSet, from: string, to: string): Crossing {
  for (const service of [from, to])
    if (set.off.includes(service)) return { allowed: false, reason: { code: 'service-off', service } };
  const [left, right] = [circleOf(set, from), circleOf(set, to)];
  if (!left) return { allowed: false, reason: { code: 'service-later', service: from } };
  if (!right) return { allowed: false, reason: { code: 'service-later', service: to } };
  if (from === to) return { allowed: true, reason: { code: 'same-service' } };
  if (left.circle.id === right.circle.id)
    return { allowed: true, reason: { code: 'same-circle', circle: left.circle.id } };
  const way = { from: left.circle.id, to: right.circle.id };
  const allowed = set.arrows.some((arrow) => arrow.from === way.from && arrow.to === way.to);
  return { allowed, reason: { code: allowed ? 'arrow' : 'no-arrow', ...way } };
}

/** Something in a set that contradicts itself or names what is not there. `must` keeps it from being published. */
export interface CrossingProblem {
  readonly code:
    | 'no-name'
    | 'duplicate-name'
    | 'in-two-circles'
    | 'circle-without-name'
    | 'duplicate-circle'
    | 'unknown-service'
    | 'unknown-operation'
    | 'unknown-circle'
    | 'unknown-workspace'
    | 'unknown-label'
    | 'not-a-host'
    | 'operation-twice'
    | 'list-twice'
    | 'line-never-read'
    | 'off-and-in-a-circle';
  readonly gravity: 'must' | 'look';
  /** The thing at fault. */
  readonly value: string;
  /** A second thing, where two contradict each other. */
  readonly other?: string;
}
