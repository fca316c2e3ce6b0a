import { type Audience } from '../directory/audience.js';
import { audienceFaults } from '../directory/audience-faults.js';
import type { KnownPeople } from '../directory/person.js';
import { isDay } from '../shared/day.js';
import { type Automatic, isPersonsStore } from './automatic.js';
import { colourFault, isColour } from './contrast.js';
import { EFFECTS, isOpen } from './handling.js';
import { choosingWords, type Label, MAX_RANK } from './label.js';
import { isOpenPlace } from './place-terms.js';
import { unknownMarkFields } from './marking.js';
import { type Marking, MARK_POINTS, MAX_MARK_LENGTH, MAX_SLANT } from './mark.js';
import type { LabelSet, Offer } from './offer.js';

/** `must` keeps a set from being published; `look` is pointed out. */
const GRAVITY = {
  'no-name': 'must',
  'duplicate-name': 'must',
  'rank-out-of-range': 'must',
  'equal-rank': 'must',
  'not-a-colour': 'must',
  'mark-without-text': 'must',
  'mark-too-long': 'must',
  'mark-field-unknown': 'must',
  'mark-size-out-of-range': 'must',
  'mark-slant-out-of-range': 'must',
  'mark-too-faint': 'must',
  'mark-hides-text': 'must',
  'no-carrier': 'must',
  'not-a-domain': 'must',
  'unknown-person': 'must',
  'unknown-group': 'must',
  'days-out-of-range': 'must',
  'foreign-taken': 'must',
  'no-labels': 'must',
  'unknown-label': 'must',
  'unknown-pattern': 'must',
  'unknown-place': 'must',
  'label-retired': 'must',
  'start-not-offered': 'must',
  'not-a-day': 'must',
  'no-condition': 'must',
  'count-out-of-range': 'must',
  'certainty-out-of-range': 'must',
  'limit-out-of-range': 'must',
  'no-choosing-words': 'look',
  'no-handling': 'look',
  'place-not-carried': 'look',
  'no-marking': 'look',
  'wider-than-read': 'look',
  'published-to-nobody': 'look',
  'not-on-carrier': 'look',
  'preset-tempts': 'look',
  'told-nothing': 'look',
} as const satisfies Readonly<Record<string, 'must' | 'look'>>;

export type LabelProblemCode = keyof typeof GRAVITY;
export const LABEL_PROBLEM_CODES = Object.keys(GRAVITY) as LabelProblemCode[];

export function labelGravity(code: LabelProblemCode): 'must' | 'look' {
  return GRAVITY[code];
}

/** Something to mend or to look at. `path` leads to the field inside the thing. */
export interface LabelProblem {
  readonly code: LabelProblemCode;
  readonly of: 'label' | 'offer' | 'automatic';
  readonly id: string;
  readonly name: string;
  readonly path: readonly (string | number)[];
  /** The value or name at fault, where it helps. */
  readonly value?: string;
}

/** Everything that is published about labels. */
export interface WholeLabelSet extends LabelSet {
  readonly automatic: readonly Automatic[];
}

export const NO_LABELS: WholeLabelSet = { labels: [], offers: [], automatic: [] };

export interface LabelContext {
  /** Null where there is no directory to ask, as for a file of labels. */
  readonly people: KnownPeople | null;
  /** Null where the places or own patterns are not known. */
  readonly patterns: ReadonlySet<string> | null;
  readonly places: ReadonlySet<string> | null;
}

/** Longest time a grant may last: ten years, after which it is no end. */
export const MAX_GRANT_DAYS = 3_650;

type Found = Omit<LabelProblem, 'of' | 'id' | 'name'>;

/** What is wrong with a set, in the order in which it is read. */
export function labelProblems(set: WholeLabelSet, context: LabelContext): LabelProblem[] {
  return [
    ...set.labels.flatMap((label) => stamped('label', label, problemsOfLabel(label, set, context))),
    ...set.offers.flatMap((offer) => stamped('offer', offer, problemsOfOffer(offer, set, context))),
    ...set.automatic.flatMap((rule) => stamped('automatic', rule, problemsOfAutomatic(rule, set, context))),
  ];
}

function stamped(
  of: LabelProblem['of'],
  { id, name }: { readonly id: string; readonly name: string },
  found: readonly Found[],
): LabelProblem[] {
  return found.map((problem) => ({ ...problem, of, id, name }));
}

const when = (wrong: boolean, problem: Found): Found[] => (wrong ? [problem] : []);

function nameProblems<Thing extends { readonly id: string; readonly name: string }>(
  thing: Thing,
  all: readonly Thing[],
): Found[] {
  const name = thing.name.trim();
  const taken = all.some(
    (other) => other !== thing && other.name.trim().toLowerCase() === name.toLowerCase(),
  );
  return [
    ...when(name === '', { code: 'no-name', path: ['name'] }),
    ...when(name !== '' && taken, { code: 'duplicate-name', path: ['name'], value: name }),
  ];
}

function problemsOfLabel(label: Label, set: WholeLabelSet, context: LabelContext): Found[] {
  const rank = Number.isInteger(label.rank) && label.rank >= 1 && label.rank <= MAX_RANK;
  const equal = set.labels.find((other) => other !== label && other.rank === label.rank);
  const offered = set.offers.some((offer) => offer.labels.includes(label.id));
  return [
    ...nameProblems(label, set.labels),
    ...when(!rank, { code: 'rank-out-of-range', path: ['rank'], value: String(label.rank) }),
    ...(rank && equal ? [{ code: 'equal-rank', path: ['rank'], value: equal.name } as const] : []),
    ...when(!isColour(label.colour), { code: 'not-a-colour', path: ['colour'], value: label.colour }),
    ...when(label.carriers.length === 0, { code: 'no-carrier', path: ['carriers'] }),
    ...when(!choosingWords(label, ''), { code: 'no-choosing-words', path: ['choosing'] }),
    ...handlingProblems(label, context),
    ...placeTermsProblems(label, context),
    ...label.markings.flatMap((marking, index) => markingProblems(marking, ['markings', index])),
    ...when(label.markings.length === 0, { code: 'no-marking', path: ['markings'] }),
    ...foreignProblems(label, set.labels),
    ...when(!offered && !label.retired, { code: 'published-to-nobody', path: ['name'] }),
  ];
}

function handlingProblems(label: Label, context: LabelContext): Found[] {
  const { handling } = label;
  const found = EFFECTS.flatMap((effect): Found[] => {
    const terms = handling[effect];
    if (terms.kind !== 'named') return [];
    return terms.grants.flatMap(({ to, days }, index): Found[] => {
      const path = ['handling', effect, 'grants', index];
      const wrong = days !== null && !(Number.isInteger(days) && days >= 1 && days <= MAX_GRANT_DAYS);
      return [
        ...audienceFaults(to, context.people, [...path, 'to']),
        ...when(wrong, { code: 'days-out-of-range', path: [...path, 'days'], value: String(days) }),
      ];
    });
  });
  const wider =
    handling.read.kind === 'anyone'
      ? undefined
      : EFFECTS.find((effect) => handling[effect].kind === 'anyone');
  return [
    ...found,
    ...when(isOpen(handling), { code: 'no-handling', path: ['handling'] }),
    ...(wider ? [{ code: 'wider-than-read', path: ['handling', wider], value: wider } as const] : []),
  ];
}

/** Terms of places hold only where the label can stand on one. */
function placeTermsProblems({ place, carriers }: Label, context: LabelContext): Found[] {
  if (!place) return [];
  const { copies } = place;
  const except = copies.kind === 'none' ? copies.except : null;
  return [
    ...(except ? audienceFaults(except, context.people, ['place', 'copies', 'except']) : []),
    ...when(!isOpenPlace(place) && !carriers.includes('place'), {
      code: 'place-not-carried',
      path: ['carriers'],
    }),
  ];
}

function markingProblems(marking: Marking, path: readonly (string | number)[]): Found[] {
  const { text, points, slant, place, colour } = marking;
  const fault = colourFault(place, colour, points);
  const codes = {
    'not-a-colour': 'not-a-colour',
    'too-faint': 'mark-too-faint',
    'hides-text': 'mark-hides-text',
  } as const;
  return [
    ...when(text.trim() === '', { code: 'mark-without-text', path: [...path, 'text'] }),
    ...when(text.length > MAX_MARK_LENGTH, { code: 'mark-too-long', path: [...path, 'text'] }),
    ...unknownMarkFields(text).map((value): Found => ({
      code: 'mark-field-unknown',
      path: [...path, 'text'],
      value,
    })),
    ...when(!(points >= MARK_POINTS.least && points <= MARK_POINTS.most), {
      code: 'mark-size-out-of-range',
      path: [...path, 'points'],
      value: String(points),
    }),
    ...when(!(Math.abs(slant) <= MAX_SLANT), {
      code: 'mark-slant-out-of-range',
      path: [...path, 'slant'],
      value: String(slant),
    }),
    ...(fault ? [{ code: codes[fault], path: [...path, 'colour'], value: colour }] : []),
  ];
}

function foreignProblems(label: Label, labels: readonly Label[]): Found[] {
  const key = ({ field, value }: { field: string; value: string }): string =>
    `${field.trim().toLowerCase()}\n${value.trim().toLowerCase()}`;
  return label.foreign.flatMap((name, index) => {
    const other = labels.find((each) => each !== label && each.foreign.some((its) => key(its) === key(name)));
    return other ? [{ code: 'foreign-taken', path: ['foreign', index], value: other.name } as const] : [];
  });
}

function peopleProblems(people: Audience, context: LabelContext): Found[] {
  return audienceFaults(people, context.people, ['people']);
}

function problemsOfOffer(offer: Offer, set: WholeLabelSet, context: LabelContext): Found[] {
  const chosen = offer.labels.map((id) => set.labels.find((label) => label.id === id));
  const { starts } = offer;
  return [
    ...nameProblems(offer, set.offers),
    ...peopleProblems(offer.people, context),
    ...when(offer.carriers.length === 0, { code: 'no-carrier', path: ['carriers'] }),
    ...when(offer.labels.length === 0, { code: 'no-labels', path: ['labels'] }),
    ...chosen.flatMap((label, index): Found[] => {
      const path = ['labels', index];
      if (!label) return [{ code: 'unknown-label', path, value: String(offer.labels[index]) }];
      const missing = offer.carriers.filter((carrier) => !label.carriers.includes(carrier));
      return [
        ...when(label.retired, { code: 'label-retired', path, value: label.name }),
        ...when(missing.length > 0, {
          code: 'not-on-carrier',
          path,
          value: `${label.name}: ${missing.join(', ')}`,
        }),
      ];
    }),
    ...when(starts.kind !== 'bare' && !offer.labels.includes(starts.label), {
      code: 'start-not-offered',
      path: ['starts'],
    }),
    ...when(starts.kind === 'preset', { code: 'preset-tempts', path: ['starts'] }),
    ...when(offer.from !== null && !isDay(offer.from), {
      code: 'not-a-day',
      path: ['from'],
      value: offer.from ?? '',
    }),
    ...when(offer.telling.trim() === '', { code: 'told-nothing', path: ['telling'] }),
  ];
}

const isWhole = (value: number, least: number, most: number): boolean =>
  Number.isInteger(value) && value >= least && value <= most;

/** Highest count a rule may ask for, as in policies. */
const MAX_COUNT = 100_000;

function problemsOfAutomatic(rule: Automatic, set: WholeLabelSet, context: LabelContext): Found[] {
  const label = set.labels.find(({ id }) => id === rule.label);
  return [
    ...nameProblems(rule, set.automatic),
    ...when(!label, { code: 'unknown-label', path: ['label'], value: rule.label }),
    ...when(label?.retired === true, { code: 'label-retired', path: ['label'], value: label?.name ?? '' }),
    ...when(rule.content.length === 0 && rule.kinds.length === 0 && rule.places.length === 0, {
      code: 'no-condition',
      path: ['content'],
    }),
    ...contentProblems(rule, context),
    ...placeProblems(rule, context),
    ...when(rule.atMost !== null && !isWhole(rule.atMost, 1, MAX_COUNT), {
      code: 'limit-out-of-range',
      path: ['atMost'],
      value: String(rule.atMost),
    }),
  ];
}

function contentProblems(rule: Automatic, context: LabelContext): Found[] {
  return rule.content.flatMap((term, index): Found[] => {
    const path = ['content', index];
    return [
      ...when(context.patterns !== null && !context.patterns.has(term.pattern), {
        code: 'unknown-pattern',
        path: [...path, 'pattern'],
        value: term.pattern,
      }),
      ...when(!isWhole(term.atLeast, 1, MAX_COUNT), {
        code: 'count-out-of-range',
        path: [...path, 'atLeast'],
        value: String(term.atLeast),
      }),
      ...when(!(term.certainty >= 0 && term.certainty <= 100), {
        code: 'certainty-out-of-range',
        path: [...path, 'certainty'],
        value: String(term.certainty),
      }),
    ];
  });
}

/** Places that are not there, and people the directory does not know. */
function placeProblems(rule: Automatic, context: LabelContext): Found[] {
  return rule.places.flatMap((place, index) => {
    const path = ['places', index];
    return isPersonsStore(place)
      ? when(context.people !== null && !context.people.addresses.has(place.toLowerCase()), {
          code: 'unknown-person',
          path,
          value: place,
        })
      : when(context.places !== null && !context.places.has(place.split('/')[0] ?? ''), {
          code: 'unknown-place',
          path,
          value: place,
        });
  });
}
