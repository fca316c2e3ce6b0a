import type { Crossings } from '@lantern/contracts/crossings';
import {
  type AnyAutomation,
  type BreachNames,
  breachSentence,
  crossingProblems,
  isArazzo,
  type CrossingProblem,
  judgeAutomation,
} from '@lantern/core/automations';
import type { WholeLabelSet } from '@lantern/core/labels';
import { parseFile, readAutomationFile } from '@lantern/set-files';
import { bytesOf } from '../bytes-of.js';

/** What is wrong with sets of what may cross. */
export function problemsOfCrossings(
  { services, workspaces, sets }: Crossings,
  labels: WholeLabelSet,
): { readonly set: string; readonly problem: CrossingProblem }[] {
  const known = labels.labels.length > 0 ? new Set(labels.labels.map(({ id }) => String(id))) : null;
  return sets.flatMap((set) =>
    crossingProblems(set, {
      ...{ services, workspaces, labels: known },
      otherNames: sets.filter(({ id }) => id !== set.id).map(({ name }) => name),
    }).map((problem) => ({ set: set.name, problem })),
  );
}

/** Whether a file holds a flow, an assistant or an Arazzo document, and no list of cases. */
export function isAutomationFile(path: string): boolean {
  if (!/\.(?:ya?ml|json)$/u.test(path)) return false;
  const parsed = parseFile({ path, text: Buffer.from(bytesOf(path)).toString('utf8') });
  if (Array.isArray(parsed) || typeof parsed.value !== 'object' || parsed.value === null) return false;
  return isArazzo(parsed.value) || ('kind' in parsed.value && !Array.isArray(parsed.value));
}

/** A flow or assistant out of a file (JSON, YAML, Arazzo); throws what is wrong with it. */
export function automationIn(path: string, services: Crossings['services'] = []): AnyAutomation {
  const reading = readAutomationFile({ path, text: Buffer.from(bytesOf(path)).toString('utf8') }, services);
  if (reading.status === 'read') return reading.automation;
  const [fault] = reading.faults;
  const line = fault?.line ? `${fault.line}` : '';
  throw new Error(`${path}:${line} ${fault?.message ?? 'cannot be read'}`);
}

/** The verdict on one, with what keeps it from running in sentences. */
export function verdictOnFlow(automation: AnyAutomation, crossings: Crossings, labels: WholeLabelSet) {
  const verdict = judgeAutomation(automation, crossings.sets, {
    services: new Map(crossings.services.map((service) => [service.id, service])),
    labels: new Map(labels.labels.map(({ id, name, rank }) => [String(id), { name, rank }])),
  });
  const names = namesOf(crossings, labels);
  return { verdict, sentences: verdict.breaches.map((breach) => breachSentence(breach, names)) };
}

function namesOf({ services, sets }: Crossings, { labels }: WholeLabelSet): BreachNames {
  const find = (things: readonly { readonly id: string; readonly name: string }[] = [], id: string): string =>
    things.find((thing) => String(thing.id) === id)?.name || id;
  return {
    service: (id) => find(services, id),
    operation: (service, id) => find(services.find((each) => each.id === service)?.operations, id),
    circle: (set, id) => find(sets.find((each) => each.id === set)?.circles, id),
    label: (id) => find(labels, id),
  };
}
