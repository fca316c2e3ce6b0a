import type { LabelRunState } from '@lantern/contracts';
import type {
  AutomaticOutcome,
  Carrier,
  Clause,
  Cost,
  EffectTerms,
  Following,
  LabelledHow,
  LabelProblem,
  LabelProblemCode,
  LabelShift,
  MarkPlace,
  Offer,
  Reach,
} from '@lantern/core/labels';
import { audienceWords } from './audience';

export const CARRIER_WORDS: Readonly<Record<Carrier, string>> = {
  document: 'documents',
  mail: 'mails',
  chat: 'chats',
  calendar: 'appointments',
  place: 'places',
};
export const PLACE_WORDS: Readonly<Record<MarkPlace, string>> = {
  top: 'at the top',
  foot: 'at the foot',
  across: 'across the page',
};
export const COST_WORDS: Readonly<Record<Cost, string>> = {
  nothing: 'needs no reason',
  reason: 'needs a reason',
  'second-person': 'needs a second person’s agreement',
};
export const FOLLOWING_WORDS: Readonly<Record<Following, string>> = {
  'takes-highest': 'gets the highest label of its parts',
  'proposes-highest': 'is offered the highest label of its parts',
  'stands-alone': 'ignores the labels of its parts',
};
export const REACH_WORDS: Readonly<Record<Reach, string>> = {
  anybody: 'whoever can open it',
  'inside-only': 'only if no one outside can open it',
  outside: 'only if someone outside can open it',
};
export const HOW_WORDS: Readonly<Record<LabelledHow, string>> = {
  'by-hand': 'by hand',
  automatically: 'automatically',
  inherited: 'from its parts or its file',
};
export const SHIFT_WORDS: Readonly<Record<Exclude<LabelShift, 'same'>, string>> = {
  set: 'set',
  raised: 'raised',
  lowered: 'lowered',
  removed: 'removed',
};
export const RUN_WORDS: Readonly<Record<LabelRunState, string>> = {
  waiting: 'queued',
  running: 'running',
  done: 'done',
  stopped: 'stopped; can be continued',
  'cut-off': 'interrupted when the server stopped; can be continued',
  failed: 'failed',
  undone: 'undone',
};
export const OUTCOME_TITLES: Readonly<Record<AutomaticOutcome | 'unreadable' | 'failed', string>> = {
  labelled: 'would be labelled',
  suggested: 'would be suggested',
  raised: 'would be raised',
  lowered: 'would be lowered',
  'has-it': 'already has this label',
  'already-higher': 'already has a higher label',
  'unknown-label': 'has a label that is not in this set',
  nothing: 'no rule applies',
  unreadable: 'could not be read',
  failed: 'could not be opened',
};
export const OUTCOME_DONE: Partial<Record<AutomaticOutcome | 'unreadable' | 'failed', string>> = {
  labelled: 'labelled',
  suggested: 'only suggested',
  raised: 'raised',
  lowered: 'lowered',
};
/** Why a file of a run was left as it was. */
export const LEFT_WORDS: Readonly<Record<string, string>> = {
  limit: 'the limit of the rule was reached',
  'read-only': 'it is read-only',
  open: 'someone has it open',
  signed: 'it is signed, and a label would break the signature',
  encrypted: 'it is locked',
  corrupt: 'it is damaged',
  'too-large': 'it is too large',
  'expands-too-far': 'it expands too far',
  undone: 'restored',
  'changed-since': 'someone changed its label since, so it was not undone',
  unsupported: 'this kind of file contains no text',
};

/** For whom an effect is open. */
export function termsWords(terms: EffectTerms): string {
  switch (terms.kind) {
    case 'anyone':
      return 'anyone, including outside';
    case 'inside':
      return 'everyone inside';
    case 'setter':
      return 'people chosen by whoever sets the label';
    case 'named':
      return terms.grants.length === 0
        ? 'nobody but the owner'
        : terms.grants
            .map(
              ({ to, days }) =>
                `${audienceWords(to)}${days === null ? '' : ` for ${days} ${days === 1 ? 'day' : 'days'}`}`,
            )
            .join(', and ');
  }
}

/** The sentence of an offer, as it stands in lists and reviews. */
export function offerSentence(offer: Offer, names: ReadonlyMap<string, string>): string {
  const label = (id: string): string => names.get(id) ?? 'a label that was removed';
  const who =
    offer.people.with.length === 0 && offer.people.without.length === 0
      ? 'Everybody'
      : audienceWords(offer.people);
  const carriers = offer.carriers.map((carrier) => CARRIER_WORDS[carrier]).join(' and ');
  const starts =
    offer.starts.kind === 'bare'
      ? 'starts without a label'
      : offer.starts.kind === 'proposed'
        ? `starts with ${label(offer.starts.label)} proposed`
        : `starts with ${label(offer.starts.label)} preset`;
  const needs = offer.needs === 'a-label' ? 'needs a label before it can leave' : 'needs no label';
  const from = offer.from === null ? '' : ` From ${offer.from}.`;
  return `${who[0]?.toUpperCase() ?? ''}${who.slice(1)} can choose ${offer.labels.map(label).join(', ') || 'no label yet'} for ${carriers || 'nothing yet'}. An item ${starts} and ${needs}; choosing a lower label ${COST_WORDS[offer.lowering]}; a whole ${FOLLOWING_WORDS[offer.follows]}.${from}`;
}

/** Which clause decided about an effect, for the person it is about. */
export function clauseWords(clause: Clause, owner: string): string {
  switch (clause.code) {
    case 'owner':
      return 'it is yours';
    case 'no-label':
      return 'it carries no label';
    case 'anyone':
      return 'the label allows anyone';
    case 'inside':
      return 'the label allows everyone inside';
    case 'named-by-setter':
      return 'whoever set the label named you';
    case 'granted':
      return clause.until === null
        ? 'the label names you'
        : `the label names you until ${new Date(clause.until).toISOString().slice(0, 10)}`;
    case 'over':
      return `your access ended on ${new Date(clause.until).toISOString().slice(0, 10)}; ask ${owner}`;
    case 'outside':
      return `it is for people inside only; ask ${owner}`;
    case 'not-granted':
      return `the label does not name you; ask ${owner}`;
    case 'not-named-by-setter':
      return `whoever set the label did not name you; ask ${owner}`;
    case 'cannot-read':
      return `you may not read it; ask ${owner}`;
    case 'place-copies':
      return `nobody may take copies out of the place where it lies; ask ${owner}`;
    case 'place-machine':
      return 'the place does not allow this on a machine that the organisation does not manage';
    case 'place-network':
      return 'the place does not allow this on an untrusted network';
    case 'place-outside':
      return `the place where it lies does not open to people outside; ask ${owner}`;
    case 'place-link':
      return `outside, the place where it lies opens for named people only; ask ${owner}`;
    case 'place-sign-in':
      return 'the place opens links only after signing in';
  }
}

const PROBLEMS: Readonly<Record<LabelProblemCode, (value: string) => string>> = {
  'no-name': () => 'It has no name.',
  'duplicate-name': (value) => `Another one also has the name "${value}". Rename one of them.`,
  'rank-out-of-range': (value) => `A rank is a whole number from 1 to 1000, not ${value}.`,
  'equal-rank': (value) => `"${value}" has the same rank. Each rank can be used only once.`,
  'not-a-colour': (value) => `"${value}" is not a colour. Write it like #225577.`,
  'mark-without-text': () => 'A line has no text. Write the text or remove the line.',
  'mark-too-long': () => 'A line is too long for the page. Shorten it.',
  'mark-field-unknown': (value) => `{${value}} is not a known field and would be printed as it is.`,
  'mark-size-out-of-range': (value) => `A line of ${value} points cannot be printed; choose 6 to 96.`,
  'mark-slant-out-of-range': (value) => `A slant of ${value} degrees is too steep; choose up to 60.`,
  'mark-too-faint': (value) => `${value} is too faint on white paper to be read. Choose a darker colour.`,
  'mark-hides-text': (value) =>
    `${value} across the page would hide the text under it. Choose a lighter colour.`,
  'no-carrier': () => 'Nothing can carry it yet. Choose what can.',
  'not-a-domain': (value) => `"${value}" is not a domain.`,
  'unknown-person': (value) => `The directory has no one at ${value}.`,
  'unknown-group': (value) => `The directory has no "${value}".`,
  'days-out-of-range': (value) => `${value} days is not possible. Choose 1 to 3650.`,
  'foreign-taken': (value) =>
    `"${value}" uses the same name from elsewhere. A file can mean only one of them.`,
  'place-not-carried': () =>
    'It asks something of places, but cannot stand on a place. Add places to what can carry it.',
  'no-labels': () => 'It offers no labels yet.',
  'unknown-label': () => 'It names a label that was removed. Choose another.',
  'unknown-pattern': (value) => `The pattern "${value}" no longer exists. Choose another.`,
  'unknown-place': (value) => `There is no place "${value}".`,
  'label-retired': (value) => `"${value}" is retired. Choose another label.`,
  'start-not-offered': () => 'An item starts with a label that is not among those offered.',
  'not-a-day': (value) => `"${value}" is not a date.`,
  'no-condition': () => 'It applies to everything. Specify content, kind of file or place.',
  'count-out-of-range': (value) => `${value} is not a valid count. Choose 1 to 100000.`,
  'certainty-out-of-range': (value) => `A certainty must be 0 to 100, not ${value}.`,
  'limit-out-of-range': (value) => `${value} is not a valid limit. Choose 1 to 100000, or none.`,
  'no-choosing-words': () =>
    'There is no guidance on when to choose it. Write a sentence for the people who choose.',
  'no-handling': () =>
    'Nothing is restricted: the label states how sensitive an item is and enforces nothing.',
  'no-marking': () => 'Nothing is printed, so paper copies do not show it.',
  'wider-than-read': () => 'Some people may act on it but not read it. Reading is checked first.',
  'published-to-nobody': () => 'It is not offered to anyone, so no one can choose it. Offer it or retire it.',
  'not-on-carrier': (value) => `Not for every carrier here, so it is not shown there: ${value}.`,
  'preset-tempts': () => 'Most people keep a preset, right or wrong. A proposal asks for one click.',
  'told-nothing': () => 'There is no message to people. Write what changes for them.',
};

export function labelProblemSentence({ code, value }: Pick<LabelProblem, 'code' | 'value'>): string {
  return PROBLEMS[code](value ?? '');
}
