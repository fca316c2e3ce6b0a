import type { ApplicationUse, SignInProof, UseDeed, UseWay } from '@lantern/core/movement';
import type {
  Amount,
  ApplicationCondition,
  SumScope,
  Treatment,
  TrustScope,
  WindowCondition,
} from '@lantern/core/policy';
import { assertNever } from '@lantern/core/shared';
import { count } from './numbers';

export const DEED_WORDS: Readonly<Record<UseDeed, string>> = {
  export: 'records are exported',
  read: 'records are read',
  'sign-in': 'someone signs in',
  connect: 'another application is connected',
  question: 'an assistant is asked something',
  answer: 'an assistant answers',
};
export const WAY_WORDS: Readonly<Record<UseWay, string>> = {
  screen: 'on the screen',
  interface: 'over the programming interface',
};
export const PROOF_WORDS: Readonly<Record<SignInProof, string>> = {
  password: 'a password',
  'second-factor': 'a second factor',
  key: 'a program key',
  'not-known': 'not known',
};
export const AMOUNT_WORDS: Readonly<Record<Amount, string>> = {
  movements: 'movements',
  kilobytes: 'kilobytes',
  rows: 'records',
};
export const SCOPE_WORDS: Readonly<Record<SumScope, string>> = {
  'this-channel': 'on this channel',
  'every-channel': 'on all channels together',
  outside: 'to outside',
};
export const TRUST_WORDS: Readonly<Record<TrustScope, string>> = {
  'same-application': 'in the same application',
  everywhere: 'everywhere',
};

/** Hours as people say them: "24 hours", "7 days". */
export function hoursWords(hours: number): string {
  if (hours > 24 && hours % 24 === 0) return `${hours / 24} days`;
  return hours === 1 ? 'an hour' : `${hours} hours`;
}

const or = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1) ?? ''}`;

type PatternName = (pattern: string) => string;

export function applicationWords(condition: ApplicationCondition, nameOf: PatternName): string {
  switch (condition.kind) {
    case 'use':
      return usageWords(condition);
    case 'columns':
      return `each record has at least ${condition.atLeast} fields`;
    case 'fields':
      return `at least ${condition.atLeast === 1 ? 'one column holds' : `${condition.atLeast} columns hold`} ${nameOf(condition.pattern)}, certain to ${condition.certainty} or more`;
    case 'rights':
      return `the application asks for ${condition.rights.length === 0 ? 'nothing yet' : or(condition.rights)}`;
    case 'sign-in':
      return signInWords(condition);
    default:
      return assertNever(condition);
  }
}

function usageWords({ deeds, by, objects, reports }: ApplicationCondition & { kind: 'use' }): string {
  const what =
    deeds.length === 0 ? 'any activity in an application' : or(deeds.map((deed) => DEED_WORDS[deed]));
  return [
    what,
    ...(by === null ? [] : [WAY_WORDS[by]]),
    ...(objects.length === 0 ? [] : [`of ${or(objects)}`]),
    ...(reports.length === 0 ? [] : [`from ${or(reports)}`]),
  ].join(' ');
}

function signInWords(condition: ApplicationCondition & { kind: 'sign-in' }): string {
  const { countries, elsewhere, proofs, olderThanMinutes } = condition;
  const traits = [
    ...(countries.length === 0 ? [] : [`${elsewhere ? 'not ' : ''}from ${or(countries)}`]),
    ...(proofs.length === 0 ? [] : [`with ${or(proofs.map((proof) => PROOF_WORDS[proof]))}`]),
    ...(olderThanMinutes === null ? [] : [`more than ${olderThanMinutes} minutes ago`]),
  ];
  return traits.length === 0 ? 'the sign-in is (not chosen yet)' : `the sign-in was ${traits.join(' and ')}`;
}

export function windowWords(condition: WindowCondition, nameOf: PatternName): string {
  const { over, hours, atLeast } = condition;
  const within = `${SCOPE_WORDS[over]} within ${hoursWords(hours)}, including this one`;
  if (condition.kind === 'values')
    return `the sender moved at least ${atLeast} different values of ${nameOf(condition.pattern)} ${within}`;
  if (condition.kind === 'sum')
    return `the sender moved at least ${atLeast} ${AMOUNT_WORDS[condition.of]} ${within}`;
  return `the sender moved ${condition.times} times their usual ${AMOUNT_WORDS[condition.of]} ${within}, and at least ${atLeast}`;
}

export function askWhoWords({ minutes, trusts }: Treatment & { kind: 'ask-who' }): string {
  const after = minutes === 0 ? 'each time' : `then not again for ${minutes} minutes ${TRUST_WORDS[trusts]}`;
  return `require the second factor, ${after}`;
}

/** Where a confirmed person is not asked again: an application, a channel or everywhere. */
export function trustPlaceWords(place: string): string {
  if (place === 'everywhere') return 'everywhere';
  const [, kind = '', name = ''] = /^(application|channel) (.*)$/.exec(place) ?? [];
  return kind === 'application' ? `in the application "${name}"` : `on the channel ${name}`;
}

const DONE: Readonly<Record<UseDeed, string>> = {
  export: 'exported',
  read: 'read',
  'sign-in': 'signed in',
  connect: 'connected another application',
  question: 'asked the assistant',
  answer: 'got an answer from the assistant',
};

/** Sentence about what the person did in a business application. */
export function usedWords({
  deed,
  by,
  report,
  objects,
  rows,
  before,
  columns,
  rights,
  signIn,
}: ApplicationUse): string {
  const isTalk = deed === 'question' || deed === 'answer';
  const what = [
    ...(rows === undefined ? [] : [`${count(rows)} ${rows === 1 ? 'record' : 'records'}`]),
    ...(before === undefined || before === 0 ? [] : [`(after ${count(before)} others)`]),
    ...(objects.length > 0 ? [`of ${objects.join(' and ')}`] : []),
    ...(report === undefined ? [] : [isTalk ? `"${report}"` : `from "${report}"`]),
    ...(columns === undefined
      ? []
      : [`with ${count(columns.length)} ${columns.length === 1 ? 'field' : 'fields'}`]),
    ...(rights === undefined ? [] : [`that asks to ${rights.join(', ')}`]),
  ].join(' ');
  const signed =
    signIn === undefined
      ? ''
      : ` The sign-in was with ${PROOF_WORDS[signIn.proof]}${signIn.country === undefined ? '' : `, from ${signIn.country}`}.`;
  return `They ${DONE[deed]}${what === '' ? '' : ` ${what}`}, ${WAY_WORDS[by]}.${signed}`;
}
