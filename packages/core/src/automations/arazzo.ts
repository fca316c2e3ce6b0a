import type { Flow, FlowService, FlowStep, Operation } from './flow.js';

export type ArazzoReading =
  | { readonly status: 'read'; readonly flow: Flow }
  /** `at` names the place in the document. */
  | { readonly status: 'refused'; readonly at: string; readonly why: ArazzoFault };

export type ArazzoFault =
  | 'no-document'
  | 'no-such-workflow'
  | 'several-workflows'
  | 'no-steps'
  | 'step-without-id'
  | 'calls-a-workflow'
  | 'no-operation'
  | 'source-unknown';

export const ARAZZO_FAULTS: Readonly<Record<ArazzoFault, string>> = {
  'no-document': 'is no Arazzo document of version 1',
  'no-such-workflow': 'names a workflow that is not in the document',
  'several-workflows': 'holds several workflows; name one of them in x-workflow',
  'no-steps': 'has no steps',
  'step-without-id': 'has no stepId',
  'calls-a-workflow': 'calls another workflow; write its steps here',
  'no-operation': 'names no operation',
  'source-unknown': 'names no source description of the document',
};

/**
 * Reads one workflow of an Arazzo document (Arazzo Specification 1.0.1) as a flow: source descriptions are services of the
 * register, by id or name. Steps run one after the other (4.6.4), so each gets the data of those before it; where an action
 * goes to another step, that one gets it too. Nothing is fetched. What the format has no field for stands in
 * `x-workspace`, `x-owner` and, where there are several, `x-workflow` of its info.
 */
export function readArazzo(document: unknown, services: readonly FlowService[]): ArazzoReading {
  const root = fieldsOf(document);
  if (!root || !/^1\.\d/u.test(text(root['arazzo']))) return refused('document', 'no-document');
  const info = fieldsOf(root['info']) ?? {};
  const workflows = listOf(root['workflows']);
  const wanted = text(info['x-workflow']);
  const found = wanted === '' ? workflows : workflows.filter((each) => text(each['workflowId']) === wanted);
  const [workflow] = found;
  if (!workflow) return refused('workflows', 'no-such-workflow');
  if (found.length > 1) return refused('workflows', 'several-workflows');
  const given = listOf(workflow['steps']);
  if (given.length === 0) return refused(`workflow ${text(workflow['workflowId'])}`, 'no-steps');
  const sources = listOf(root['sourceDescriptions']).map((each) => text(each['name']));
  const steps: FlowStep[] = [];
  for (const [at, step] of given.entries()) {
    const read = readStep(step, { sources, services });
    if ('why' in read) return refused(text(step['stepId']) || `step ${at + 1}`, read.why);
    steps.push({ ...read, after: at === 0 ? [] : [text(given[at - 1]?.['stepId'])] });
  }
  return {
    status: 'read',
    flow: {
      ...{ kind: 'flow', id: text(workflow['workflowId']).slice(0, MAX_NAME) || 'workflow', madeAt: 0 },
      name: (text(workflow['summary']) || text(info['title']) || text(workflow['workflowId'])).slice(
        0,
        MAX_NAME,
      ),
      owner: text(info['x-owner']),
      workspace: text(info['x-workspace']),
      steps: withJumps(steps, given),
    },
  };
}

/** Whether something is meant as an Arazzo document. */
export const isArazzo = (document: unknown): boolean => text(fieldsOf(document)?.['arazzo']) !== '';

const MAX_NAME = 120;

type Fields = Readonly<Record<string, unknown>>;

const fieldsOf = (value: unknown): Fields | null =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Fields) : null;
const listOf = (value: unknown): Fields[] =>
  Array.isArray(value) ? value.map(fieldsOf).filter((each) => each !== null) : [];
const text = (value: unknown): string => (typeof value === 'string' ? value.trim() : '');
const refused = (at: string, why: ArazzoFault): ArazzoReading => ({ status: 'refused', at, why });

interface Known {
  readonly sources: readonly string[];
  readonly services: readonly FlowService[];
}

function readStep(step: Fields, known: Known): Omit<FlowStep, 'after'> | { readonly why: ArazzoFault } {
  const id = text(step['stepId']);
  if (id === '') return { why: 'step-without-id' };
  if (text(step['workflowId']) !== '') return { why: 'calls-a-workflow' };
  const called = operationOf(step);
  if (!called) return { why: 'no-operation' };
  // Without a name it is of the only source there is.
  const source = called.source ?? (known.sources.length === 1 ? known.sources[0] : undefined);
  if (source === undefined || !known.sources.includes(source)) return { why: 'source-unknown' };
  const service = known.services.find(
    (each) => each.id === source || each.name.toLowerCase() === source.toLowerCase(),
  );
  const address = addressIn(step);
  return {
    ...{ id, name: text(step['description']).slice(0, MAX_NAME) || id, service: service?.id ?? source },
    operation: operationNamed(service, called.operation)?.id ?? called.operation,
    ...(address === null ? {} : { address }),
  };
}

/** The operation of a step: by id, perhaps of a source, or by a pointer into the document of a source. */
function operationOf(step: Fields): { readonly source?: string; readonly operation: string } | null {
  const path = text(step['operationPath']);
  if (path !== '') {
    const [, source, pointer] = /^\{?\$sourceDescriptions\.([\w-]+)\.url\}?(#.*)$/u.exec(path) ?? [];
    return source && pointer ? { source, operation: pointer } : null;
  }
  const id = text(step['operationId']);
  const [, source, operation] = /^\$sourceDescriptions\.([\w-]+)\.(.+)$/u.exec(id) ?? [];
  if (source && operation) return { source, operation };
  return id === '' ? null : { operation: id };
}

/**
 * An operation as a document may name it: by its id, by method and path ("GET /berths"), or by a JSON pointer into the
 * OpenAPI document of its service (RFC 6901; "#/paths/~1berths/get").
 */
export function operationNamed(service: FlowService | undefined, name: string): Operation | undefined {
  const [, path = '', method = ''] = /#\/paths\/([^/]+)\/([a-z]+)$/u.exec(name) ?? [];
  const place =
    path === ''
      ? name
      : `${method.toUpperCase()} ${decoded(path).replaceAll('~1', '/').replaceAll('~0', '~')}`;
  return (
    service?.operations.find(({ id }) => id === name) ??
    service?.operations.find(({ id, place: at }) => at === place || id === place)
  );
}

function decoded(step: string): string {
  try {
    return decodeURIComponent(step);
  } catch {
    return step;
  }
}

/** The first value of a step that is an address, or is put together as one, by the name of its parameter. */
function addressIn(step: Fields): string | null {
  const payload = fieldsOf(fieldsOf(step['requestBody'])?.['payload']) ?? {};
  const values = [
    ...listOf(step['parameters']).map(({ name, value }) => [text(name), value] as const),
    ...Object.entries(payload),
  ];
  for (const [name, value] of values) {
    const given = text(value);
    if (/^https?:\/\//iu.test(given)) return given;
    if (given !== '' && /ur[il]$|address$|callback$|webhook$/iu.test(name)) return given;
  }
  return null;
}

/** Where an action goes to another step, data of this one reaches it as well: loops close here. */
function withJumps(steps: readonly FlowStep[], given: readonly Fields[]): FlowStep[] {
  const jumps = new Map<string, string[]>();
  for (const [at, step] of given.entries())
    for (const action of [...listOf(step['onSuccess']), ...listOf(step['onFailure'])]) {
      const target = text(action['stepId']);
      if (target === '') continue;
      jumps.set(target, [...(jumps.get(target) ?? []), steps[at]?.id ?? '']);
    }
  return steps.map((step) => ({
    ...step,
    after: [...new Set([...step.after, ...(jumps.get(step.id) ?? [])])].filter((id) => id !== step.id),
  }));
}
