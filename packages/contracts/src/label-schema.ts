import {
  CARRIERS,
  COSTS,
  DOES,
  EFFECTS,
  FOLLOWINGS,
  MARK_PLACES,
  MAX_MARK_LENGTH,
  NEEDS,
  ENTRIES,
  FINDERS,
  OPEN_HANDLING,
  OUTSIDE_TERMS,
  REACHES,
  STRANGE_MACHINES,
} from '@lantern/core/labels';
import { FILE_KINDS } from '@lantern/core/movement';
import { MAX_NAME_LENGTH } from './limits.js';
import { DEFS, schemaWith } from './policy-schema.js';
import { among, count, type JsonSchema, list, orNull, shape, text, withDefault } from './schema-parts.js';

const ref = (name: string): JsonSchema => ({ $ref: `#/$defs/${name}` });
const kinds = (branches: readonly JsonSchema[]): JsonSchema => ({
  type: 'object',
  required: ['kind'],
  discriminator: { propertyName: 'kind' },
  oneOf: branches,
});
const kind = (
  name: string,
  description: string,
  more: Readonly<Record<string, JsonSchema>> = {},
): JsonSchema =>
  shape({ kind: { const: name, description }, ...more }, ['kind', ...Object.keys(more)], description);

/** Labels, offers and automatic rules of one set at most; people cannot choose among more. */
export const MAX_LABELS = 200;

const GRANT = shape(
  {
    to: { ...ref('audience'), default: {} },
    days: orNull(count('Days after the label was set; null for no end.')),
  },
  [],
  'Some people who may.',
);

const TERMS = kinds([
  kind('anyone', 'Anyone, also outside.'),
  kind('inside', 'Everybody inside.'),
  kind('named', 'Only those named; nobody but the owner where nobody is.', {
    grants: { type: 'array', items: ref('grant'), maxItems: 50, description: 'Who, and for how long.' },
  }),
  kind('setter', 'Whom the person names who sets the label.'),
]);

const LABEL_DEFS: Readonly<Record<string, JsonSchema>> = {
  ...DEFS,
  grant: GRANT,
  terms: TERMS,
};

const HANDLING: JsonSchema = {
  ...shape(
    Object.fromEntries(EFFECTS.map((effect) => [effect, { ...ref('terms'), default: { kind: 'anyone' } }])),
    [],
    'Who may do what.',
  ),
  default: OPEN_HANDLING,
};

const MARKING = shape(
  {
    place: among(MARK_PLACES, 'Where on the page.'),
    text: text('The line; facts stand in braces: {label}, {handling}, {owner} …', MAX_MARK_LENGTH + 100),
    points: withDefault(count('Size in points.'), 9),
    colour: withDefault(text('#rrggbb', 7), '#444444'),
    slant: withDefault(count('Degrees by which a line across rises.'), 0),
  },
  ['place', 'text'],
  'A line on the page.',
);

/** Nothing of it has a default: behind "or null" none would be filled in, and all of it together says what holds. */
const PLACE_FIELDS: Readonly<Record<string, JsonSchema>> = {
  found: among(FINDERS, 'Who sees that the place exists.'),
  entry: among(ENTRIES, 'How somebody inside comes in.'),
  outside: among(OUTSIDE_TERMS, 'For whom outside it may open.'),
  signIn: { type: 'boolean', description: 'Whoever holds a link must sign in.' },
  strange: among(STRANGE_MACHINES, 'What a machine may do there that the organisation does not manage.'),
  network: among(STRANGE_MACHINES, 'The same over networks that the organisation does not trust.'),
  copies: kinds([
    kind('free', 'Copies may be taken.'),
    kind('none', 'Nobody takes copies out, owners included.', {
      except: {
        anyOf: [ref('audience'), { type: 'null' }],
        description: 'People who may all the same; null for nobody.',
      },
      kinds: {
        type: 'array',
        items: among(FILE_KINDS, 'What the bytes are.'),
        maxItems: 20,
        description: 'Kinds of file that everybody may take out.',
      },
    }),
  ]),
};
const PLACE = shape(
  PLACE_FIELDS,
  // Labels from before networks counted ask nothing of them.
  Object.keys(PLACE_FIELDS).filter((field) => field !== 'network'),
  'What it asks of a place that carries it.',
);

const LABEL = {
  name: text('Name.', MAX_NAME_LENGTH),
  rank: count('How sensitive; unique, higher is more.'),
  family: withDefault(text('Group where it is shown; decides nothing.', MAX_NAME_LENGTH), ''),
  colour: withDefault(text('#rrggbb, of its flag.', 7), '#5a6472'),
  choosing: list(
    shape(
      {
        language: withDefault(text('Language (ISO 639-1).', 10), 'en'),
        when: text('When to choose it.'),
        not: withDefault(text('When not, and what then.'), ''),
      },
      ['when'],
      'Words for the people who must choose.',
    ),
    'Words by language.',
    40,
  ),
  handling: HANDLING,
  markings: list(MARKING, 'Lines it prints.', 12),
  carriers: list(among(CARRIERS, 'A carrier.'), 'What it can stand on.', 10),
  foreign: list(
    shape(
      { field: text('Property, header or metadata field.', 200), value: text('Its value.', 1_000) },
      ['field', 'value'],
      'A name of another maker.',
    ),
    'What files made elsewhere call it.',
    100,
  ),
  place: { anyOf: [PLACE, { type: 'null' }], description: 'What it asks of a place; left out for nothing.' },
  retired: { type: 'boolean', default: false, description: 'Nobody can choose it any more.' },
};

const LABEL_REFERENCE = text('A label, by id or name.', 200);

const OFFER = {
  name: text('Name.', MAX_NAME_LENGTH),
  people: { ...ref('audience'), default: {} },
  carriers: list(among(CARRIERS, 'A carrier.'), 'For what.', 10),
  labels: list(LABEL_REFERENCE, 'In the order in which they are shown.', MAX_LABELS),
  starts: {
    ...kinds([
      kind('bare', 'Without a label.'),
      kind('proposed', 'A label waits to be taken.', { label: LABEL_REFERENCE }),
      kind('preset', 'A label is there before anybody thought.', { label: LABEL_REFERENCE }),
    ]),
    default: { kind: 'bare' },
  },
  needs: withDefault(among(NEEDS, 'What an item needs before it leaves.'), 'nothing'),
  lowering: withDefault(among(COSTS, 'What going down the scale costs.'), 'reason'),
  follows: withDefault(among(FOLLOWINGS, 'How a whole follows its parts.'), 'takes-highest'),
  from: orNull(text('First day (YYYY-MM-DD).', 10)),
  telling: withDefault(text('What people are told beforehand.'), ''),
};

const AUTOMATIC = {
  name: text('Name.', MAX_NAME_LENGTH),
  label: LABEL_REFERENCE,
  content: list(
    shape(
      {
        pattern: text('Pattern that is looked for.', 200),
        distinct: { type: 'boolean', default: true, description: 'Count equal values once.' },
        certainty: withDefault(count('0 to 100.'), 80),
        atLeast: withDefault(count('Smallest count that holds.'), 1),
      },
      ['pattern'],
      'How much of something.',
    ),
    'What the item holds.',
    50,
  ),
  quantity: withDefault(among(['any', 'every'], 'Whether one is enough or all must hold.'), 'any'),
  kinds: list(among(FILE_KINDS, 'What the bytes are.'), 'Kinds of file; empty for any.', 20),
  places: list(text('A place, with all under it.', 400), 'Places; empty for everywhere.', 100),
  sharedWith: withDefault(among(REACHES, 'Whom it is shared with.'), 'anybody'),
  does: withDefault(among(DOES, 'Whether it labels or suggests.'), 'suggest'),
  lowersPeople: { type: 'boolean', default: false, description: 'May lower what a person chose.' },
  atMost: orNull(count('Most items that one run labels.')),
};

const labelSchema = (name: string, body: JsonSchema): JsonSchema => schemaWith(name, body, LABEL_DEFS);

export const LABEL_SCHEMA = labelSchema(
  'label',
  shape(LABEL, ['name', 'rank'], 'How something should be handled.'),
);
export const OFFER_SCHEMA = labelSchema('offer', shape(OFFER, ['name'], 'Labels published to some people.'));
export const AUTOMATIC_SCHEMA = labelSchema(
  'automatic',
  shape(AUTOMATIC, ['name', 'label'], 'A rule by which a machine labels.'),
);

const withId = (
  fields: Readonly<Record<string, JsonSchema>>,
  required: readonly string[],
  about: string,
): JsonSchema =>
  shape(
    { id: text('Stays the same when the rest changes; may be left out.', 60), ...fields },
    required,
    about,
  );

/** Name and version of the format of a set of labels in one file. */
export const LABELS_FORMAT = 'uncut-lantern labels 1';

/** One file of labels: what export writes and import reads. */
export const LABEL_SET_SCHEMA = labelSchema(
  'labels',
  shape(
    {
      format: { const: LABELS_FORMAT, description: 'Name and version of the format.' },
      labels: list(
        withId(LABEL, ['name', 'rank'], 'How something should be handled.'),
        'Labels.',
        MAX_LABELS,
      ),
      offers: list(
        withId(OFFER, ['name'], 'Labels published to some people.'),
        'Offers; the first that names a person decides.',
        MAX_LABELS,
      ),
      automatic: list(
        withId(AUTOMATIC, ['name', 'label'], 'A rule by which a machine labels.'),
        'Automatic rules.',
        MAX_LABELS,
      ),
    },
    ['format'],
    'A set of labels.',
  ),
);
