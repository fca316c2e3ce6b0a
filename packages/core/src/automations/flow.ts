/** What an operation of a service does with data. */
export const DOINGS = ['reads', 'writes', 'sends', 'publishes'] as const;
export type Doing = (typeof DOINGS)[number];

/** One thing that a service can be asked to do. */
export interface Operation {
  readonly id: string;
  readonly name: string;
  readonly does: readonly Doing[];
  /** It calls an address that whoever builds the flow writes. */
  readonly takesAddress: boolean;
  /** Method and path in its OpenAPI document, as "GET /berths"; left out where it came from none. */
  readonly place?: string;
}

/** A service that flows can use. */
export interface FlowService {
  readonly id: string;
  readonly name: string;
  /** Address of whoever answers for it; empty for nobody. */
  readonly owner: string;
  readonly operations: readonly Operation[];
  /** Why no set can hold it to anything; null where it can be governed. */
  readonly ungoverned: string | null;
}

/** One step of a flow. */
export interface FlowStep {
  readonly id: string;
  readonly name: string;
  readonly service: string;
  readonly operation: string;
  /** Where it calls, for operations that take an address. */
  readonly address?: string;
  /** What it is about, as the service names it: a room, a report, a mail address, a file. */
  readonly target?: string;
  /** Steps before it whose data it gets; the first steps have none. */
  readonly after: readonly string[];
}

export const WORKSPACE_KINDS = ['trial', 'team', 'live'] as const;
export type WorkspaceKind = (typeof WORKSPACE_KINDS)[number];

/** Where flows are built and run. */
export interface Workspace {
  readonly id: string;
  readonly name: string;
  readonly kind: WorkspaceKind;
  /** Empty for all. */
  readonly department: string;
}

interface Automation {
  readonly id: string;
  readonly name: string;
  readonly owner: string;
  readonly workspace: string;
  /** When somebody made it or changed it last, in milliseconds since 1970, UTC. */
  readonly madeAt: number;
}

/** Steps that move data from service to service. */
export interface Flow extends Automation {
  readonly kind: 'flow';
  readonly steps: readonly FlowStep[];
}

/** Something that an assistant reads. */
export type AssistantSource =
  | { readonly kind: 'service'; readonly service: string }
  /** A place or file by name, with the id of its label where it carries one. */
  | { readonly kind: 'place' | 'file'; readonly name: string; readonly label: string | null }
  | { readonly kind: 'site'; readonly address: string };

/** Who may use an assistant, the fewest first. */
export const AUDIENCES = ['named', 'signed-in', 'anybody'] as const;
export type AssistantAudience = (typeof AUDIENCES)[number];

/** Where an assistant can be published. */
export const OUTLETS = ['site', 'chat', 'social'] as const;
export type Outlet = (typeof OUTLETS)[number];

/** A flow that answers people. */
export interface Assistant extends Automation {
  readonly kind: 'assistant';
  readonly sources: readonly AssistantSource[];
  /** What it may do. */
  readonly steps: readonly Omit<FlowStep, 'after'>[];
  readonly audience: AssistantAudience;
  /** Addresses of those who may use it where they are named, beside its owner; left out for nobody. */
  readonly people?: readonly string[];
  readonly published: readonly Outlet[];
}

export type AnyAutomation = Flow | Assistant;

/** Steps of one flow at most; no person reads more. */
export const MAX_STEPS = 2_000;
