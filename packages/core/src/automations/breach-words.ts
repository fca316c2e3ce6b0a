import type { AddressFault } from './address.js';
import type { AssistantAudience, Outlet } from './flow.js';
import type { Alternatives, Breach, BreachReason } from './judge-automation.js';

/** Names of what breaches point to by id; an id that is not known stands for itself. */
export interface BreachNames {
  readonly service: (id: string) => string;
  readonly operation: (service: string, id: string) => string;
  readonly circle: (set: string | null, id: string) => string;
  readonly label: (id: string) => string;
}

const FAULTS: Readonly<Record<AddressFault, string>> = {
  empty: 'it names no address',
  'control-characters': 'its address has characters in it that nobody can see',
  'made-at-run-time': 'its address is put together only while it runs, so that nobody can check it before',
  'no-scheme': 'its address has no scheme, such as https',
  'scheme-unknown': 'its address has a scheme that cannot be checked',
  'no-host': 'its address has no host',
  unreadable: 'its address cannot be read',
};
export const AUDIENCE_NAMES: Readonly<Record<AssistantAudience, string>> = {
  named: 'named people',
  'signed-in': 'people who sign in',
  anybody: 'anybody',
};
export const OUTLET_NAMES: Readonly<Record<Outlet, string>> = {
  site: 'a site',
  chat: 'a chat',
  social: 'a social channel',
};

/** What is wrong, in one sentence. */
export function breachSentence({ set, reason, from, to }: Breach, names: BreachNames): string {
  switch (reason.code) {
    case 'no-arrow':
      return `Data from ${names.service(from ?? '')} may not go to ${names.service(to ?? '')}: no arrow leads from ${names.circle(set, reason.from)} to ${names.circle(set, reason.to)}.`;
    case 'service-off':
      return `${names.service(reason.service)} is switched off.`;
    case 'service-later':
      return `${names.service(reason.service)} is in no circle, and new services are refused.`;
    case 'operation-off':
      return `"${names.operation(reason.service, reason.operation)}" of ${names.service(reason.service)} is switched off.`;
    case 'operation-later':
      return `"${names.operation(reason.service, reason.operation)}" of ${names.service(reason.service)} is new, and new operations are refused.`;
    case 'address':
      return `${names.service(reason.service)} may not be called: ${FAULTS[reason.fault]}.`;
    case 'address-refused':
      return `${names.service(reason.service)} may not call ${reason.address.slice(0, 200)}: ${reason.line === null ? 'no line of its list names it' : `line ${reason.line + 1} of its list refuses it`}.`;
    default:
      return otherSentence(reason, names);
  }
}

function otherSentence(reason: BreachReason, names: BreachNames): string {
  switch (reason.code) {
    case 'service-gone':
      return `The service "${reason.service}" is not in the register.`;
    case 'operation-gone':
      return `${names.service(reason.service)} has no operation "${reason.operation}".`;
    case 'step-gone':
      return `It takes data from a step "${reason.step}" that is not there.`;
    case 'audience':
      return `${readsWords(reason.label, names)} may be used by ${AUDIENCE_NAMES[reason.widest]} only.`;
    case 'outlet':
      return `${readsWords(reason.label, names)} may not be published on ${OUTLET_NAMES[reason.outlet]}.`;
    default:
      return 'It may not run.';
  }
}

const readsWords = (label: string | null, names: BreachNames): string =>
  label === null ? 'An assistant' : `An assistant that reads what is labelled "${names.label(label)}"`;

/** What would be allowed instead; empty where nothing is known. */
export function insteadSentence({ kind, values }: Alternatives, names: BreachNames, service = ''): string {
  switch (kind) {
    case 'services':
      return `It may go to ${values.map(names.service).join(', ')}.`;
    case 'operations':
      return `Allowed are ${values.map((id) => `"${names.operation(service, id)}"`).join(', ')}.`;
    case 'hosts':
      return `Allowed are ${values.join(', ')}.`;
    case 'none':
      return '';
  }
}
