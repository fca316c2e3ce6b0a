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
import { audienceWords } from './sentence';

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
  nothing: 'costs nothing',
  reason: 'asks for a reason',
  'second-person': 'needs a second person',
};
export const FOLLOWING_WORDS: Readonly<Record<Following, string>> = {
  'takes-highest': 'takes the highest label of its parts',
  'proposes-highest': 'proposes the highest label of its parts',
  'stands-alone': 'does not look at its parts',
};
export const REACH_WORDS: Readonly<Record<Reach, string>> = {
  anybody: 'whoever can open it',
  'inside-only': 'only if nobody outside can open it',
  outside: 'only if somebody outside can open it',
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
  waiting: 'waits for its turn',
  running: 'running',
  done: 'done',
  stopped: 'stopped; it can go on',
  'cut-off': 'cut off when the server stopped; it can go on',
  failed: 'ended by a failure',
  undone: 'undone',
};
export const OUTCOME_TITLES: Readonly<Record<AutomaticOutcome | 'unreadable' | 'failed', string>> = {
  labelled: 'would be labelled',
  suggested: 'would be suggested',
  raised: 'would be raised',
  lowered: 'would be lowered',
  'has-it': 'has the label already',
  'already-higher': 'carries a higher one already',
  'unknown-label': 'carries a label this set does not know',
  nothing: 'no rule claims it',
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
  limit: 'the limit of its rule was reached',
  'read-only': 'it is read-only',
  open: 'somebody had it open in a program',
  signed: 'it is signed, and a label would break that',
  encrypted: 'it is locked',
  corrupt: 'it is damaged',
  'too-large': 'it is too large',
  'expands-too-far': 'it unpacks without end',
  undone: 'put back as it was',
  'changed-since': 'somebody changed its label since, so it stayed',
  unsupported: 'its kind holds no text',
};

/** For whom an effect is open. */
export function termsWords(terms: EffectTerms): string {
  switch (terms.kind) {
    case 'anyone':
      return 'anyone, also outside';
    case 'inside':
      return 'everybody inside';
    case 'setter':
      return 'whom the person names who sets it';
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
  const label = (id: string): string => names.get(id) ?? 'a label that is gone';
  const who =
    offer.people.with.length === 0 && offer.people.without.length === 0
      ? 'Everybody'
      : audienceWords(offer.people);
  const carriers = offer.carriers.map((carrier) => CARRIER_WORDS[carrier]).join(' and ');
  const starts =
    offer.starts.kind === 'bare'
      ? 'starts bare'
      : offer.starts.kind === 'proposed'
        ? `has ${label(offer.starts.label)} proposed`
        : `has ${label(offer.starts.label)} preset`;
  const needs = offer.needs === 'a-label' ? 'needs a label before it leaves' : 'needs no label';
  const from = offer.from === null ? '' : ` From ${offer.from}.`;
  return `${who[0]?.toUpperCase() ?? ''}${who.slice(1)} can choose ${offer.labels.map(label).join(', ') || 'no label yet'} for ${carriers || 'nothing yet'}. An item ${starts} and ${needs}; going down the scale ${COST_WORDS[offer.lowering]}; a whole ${FOLLOWING_WORDS[offer.follows]}.${from}`;
}

/** Which clause decided about an effect, for the person it is about. */
export function clauseWords(clause: Clause, owner: string): string {
  switch (clause.code) {
    case 'owner':
      return 'it is yours';
    case 'no-label':
      return 'it carries no label';
    case 'anyone':
      return 'the label lets anyone';
    case 'inside':
      return 'the label lets everybody inside';
    case 'named-by-setter':
      return 'whoever set the label named you';
    case 'granted':
      return clause.until === null
        ? 'the label names you'
        : `the label names you until ${new Date(clause.until).toISOString().slice(0, 10)}`;
    case 'over':
      return `your time ended on ${new Date(clause.until).toISOString().slice(0, 10)}; ask ${owner}`;
    case 'outside':
      return `it is for people inside only; ask ${owner}`;
    case 'not-granted':
      return `the label does not name you; ask ${owner}`;
    case 'not-named-by-setter':
      return `whoever set the label did not name you; ask ${owner}`;
    case 'cannot-read':
      return `you may not read it; ask ${owner}`;
  }
}

const PROBLEMS: Readonly<Record<LabelProblemCode, (value: string) => string>> = {
  'no-name': () => 'It has no name.',
  'duplicate-name': (value) => `Another one is called "${value}" too. Rename one of them.`,
  'rank-out-of-range': (value) => `A rank is a whole number from 1 to 1000, not ${value}.`,
  'equal-rank': (value) => `"${value}" has the same rank. Ranks say which is higher, so each stands alone.`,
  'not-a-colour': (value) => `"${value}" is no colour; write it like #225577.`,
  'mark-without-text': () => 'A line has no text. Write it or take the line out.',
  'mark-too-long': () => 'A line is longer than a page is wide. Shorten it.',
  'mark-field-unknown': (value) => `{${value}} stands for nothing and would be printed as it is.`,
  'mark-size-out-of-range': (value) => `A line of ${value} points cannot be printed; choose 6 to 96.`,
  'mark-slant-out-of-range': (value) => `A slant of ${value} degrees is too steep; choose up to 60.`,
  'mark-too-faint': (value) => `${value} is too faint on white paper to be read. Choose a darker colour.`,
  'mark-hides-text': (value) =>
    `${value} across the page would hide the text under it. Choose a lighter colour.`,
  'no-carrier': () => 'It stands on nothing yet. Say for what it is.',
  'not-a-domain': (value) => `"${value}" is no domain.`,
  'unknown-person': (value) => `The directory knows nobody at ${value}.`,
  'unknown-group': (value) => `The directory has no "${value}".`,
  'days-out-of-range': (value) => `${value} days is no time that can be granted; choose 1 to 3650.`,
  'foreign-taken': (value) => `"${value}" claims the same foreign name. A file can mean only one of them.`,
  'no-labels': () => 'It offers no label yet.',
  'unknown-label': () => 'It names a label that is gone. Choose another.',
  'unknown-pattern': (value) => `There is no pattern "${value}" any more. Choose another.`,
  'unknown-place': (value) => `There is no place "${value}".`,
  'label-retired': (value) => `"${value}" is retired. Choose another label.`,
  'start-not-offered': () => 'An item starts with a label that is not among those offered.',
  'not-a-day': (value) => `"${value}" is no day of the calendar.`,
  'no-condition': () =>
    'It claims everything. Say what an item holds, of which kind it is, or where it lies.',
  'count-out-of-range': (value) => `${value} is no count; choose 1 to 100000.`,
  'certainty-out-of-range': (value) => `A certainty is 0 to 100, not ${value}.`,
  'limit-out-of-range': (value) => `${value} is no limit; choose 1 to 100000, or none.`,
  'no-choosing-words': () => 'Nobody is told when to choose it. Write a sentence for the people who must.',
  'no-handling': () =>
    'Everything is open to anyone: it says how sensitive something is, and enforces nothing.',
  'no-marking': () => 'It prints nothing, so a page on paper does not show it.',
  'wider-than-read': () =>
    'Anyone may do something with it that not everyone may read. Reading decides first.',
  'published-to-nobody': () => 'It is offered to nobody, so nobody can choose it. Offer it, or retire it.',
  'not-on-carrier': (value) => `Not for every carrier here, so it is not shown there: ${value}.`,
  'preset-tempts': () =>
    'A preset is there before anybody thought: most people will keep it, right or wrong. A proposal asks for one press.',
  'told-nothing': () => 'People are told nothing beforehand. Write what changes for them.',
};

export function labelProblemSentence({ code, value }: Pick<LabelProblem, 'code' | 'value'>): string {
  return PROBLEMS[code](value ?? '');
}
