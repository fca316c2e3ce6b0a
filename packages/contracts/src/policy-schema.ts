import { CHANNELS, DEVICE_KINDS } from '@lantern/core/movement';
import { ANSWERS, SEVERITIES } from '@lantern/core/policy';
import { CLAUSES, MEASURE } from './clause-schema.js';
import { MAX_NAME_LENGTH, MAX_RULES } from './limits.js';
import {
  among,
  count,
  EVERYBODY,
  type JsonSchema,
  list,
  orNull,
  ref,
  shape,
  text,
  withDefault,
} from './schema-parts.js';
import { TREATMENT } from './treatment-schema.js';

const GROUPS = ['all', 'any', 'none'] as const;

/** Clauses in one group at most; more is a list of values that belongs in one clause. */
const MAX_CLAUSES = 200;

const clause = (kind: string): JsonSchema => {
  const [properties, required, description] = CLAUSES[kind] ?? [{}, [], ''];
  return shape({ kind: { const: kind, description }, ...properties }, ['kind', ...required], description);
};
const group = (kind: string): JsonSchema =>
  shape(
    {
      kind: { const: kind },
      of: { type: 'array', items: ref('condition'), maxItems: MAX_CLAUSES, description: 'Clauses inside.' },
    },
    ['kind', 'of'],
    `${kind} of these clauses.`,
  );

const TERMS = {
  person: 'address',
  group: 'group',
  department: 'department',
  office: 'office',
  domain: 'domain',
};

/** Objects told apart by their kind; fields without a default must be there. */
function oneOfKinds(kinds: Readonly<Record<string, Readonly<Record<string, JsonSchema>>>>): JsonSchema {
  return {
    type: 'object',
    required: ['kind'],
    discriminator: { propertyName: 'kind' },
    oneOf: Object.entries(kinds).map(([kind, fields]) => {
      const required = Object.keys(fields).filter((field) => !('default' in (fields[field] ?? {})));
      return shape({ kind: { const: kind }, ...fields }, ['kind', ...required], `One ${kind}.`);
    }),
  };
}

export const DEFS: Readonly<Record<string, JsonSchema>> = {
  condition: {
    type: 'object',
    required: ['kind'],
    discriminator: { propertyName: 'kind' },
    oneOf: [...Object.keys(CLAUSES).map(clause), ...GROUPS.map(group)],
  },
  audience: shape(
    {
      with: list(ref('term'), 'Whom it is for; empty for everybody.'),
      without: list(ref('term'), 'Whom it leaves out.'),
    },
    [],
    'Some people.',
  ),
  term: oneOfKinds(
    Object.fromEntries(
      Object.entries(TERMS).map(([kind, field]) => [kind, { [field]: text(`The ${field}.`, 254) }]),
    ),
  ),
  spot: oneOfKinds({
    application: { name: text('Name of the application; * stands for anything.', 200) },
    host: {
      host: text('A host name or address.', 253),
      under: withDefault({ type: 'boolean', description: 'All hosts under it count as well.' }, true),
    },
    device: {
      device: among(DEVICE_KINDS, 'What kind of thing it is.'),
      name: withDefault(text('Its name; * stands for anything, empty for any.', 200), ''),
      trusted: orNull({ type: 'boolean', description: 'Only trusted ones, or only others.' }),
    },
    place: { path: text('Folders from the outermost, divided by /.', 500) },
    spots: { called: text('A group of spots.', 200) },
  }),
  whereabouts: shape(
    {
      with: list(ref('where'), 'Where it is for; empty for everywhere.', 200),
      without: list(ref('where'), 'Where it is not.', 200),
    },
    [],
    'Some machines and places.',
  ),
  where: oneOfKinds({
    machine: { machine: text('Name of a machine.', 200) },
    machines: { group: text('Name of a group of machines.', 200) },
    place: { path: text('Folders from the outermost, divided by /.', 500) },
  }),
  treatment: TREATMENT,
  measure: shape(MEASURE, ['pattern'], 'What bands count.'),
  band: shape(
    {
      from: withDefault(count('Smallest count of this band.'), 1),
      to: orNull(count('Largest count; null for no end.')),
      answer: among(ANSWERS, 'What happens to the movement.'),
      severity: withDefault(among(SEVERITIES, 'How bad it is.'), 'medium'),
      treatments: list(ref('treatment'), 'What is done beside the answer.', 10),
      text: orNull(text('Text that the person reads.', 200)),
    },
    ['answer'],
    'What follows when the rule holds.',
  ),
  ask: shape(
    {
      reasons: list(
        shape(
          { words: text('A reason to choose.', 200), leads: among(['goes-on', 'stays'], 'Where it leads.') },
          ['words', 'leads'],
          'A reason.',
        ),
        'Reasons a person can choose.',
        20,
      ),
      minutes: count('Minutes until the outcome comes about by itself.'),
      closes: shape(
        {
          time: text('Time of day, HH:MM.', 5),
          zone: withDefault(text('Zone of the IANA database.', 60), 'UTC'),
        },
        ['time'],
        'It stands on until this time of day, the first that leaves those minutes.',
      ),
      otherwise: among(['goes-on', 'stays'], 'That outcome.'),
    },
    ['minutes', 'otherwise'],
    'What is asked.',
  ),
  override: shape(
    {
      mayAsk: EVERYBODY,
      decides: withDefault(among(['approvers', 'authors'], 'Who decides.'), 'approvers'),
      approvers: { type: 'integer', enum: [2], description: 'Two people must allow it; left out, one does.' },
    },
    [],
    'Whether somebody may be asked to let it go.',
  ),
  hold: shape(
    {
      minutes: count('Minutes until the next in line, or the outcome.'),
      next: orNull(among(['approvers', 'authors'], 'Who decides after that, for as many minutes again.')),
      otherwise: among(['goes-on', 'stays'], 'What happens without a decision.'),
      approvers: { type: 'integer', enum: [2], description: 'Two people must allow it; left out, one does.' },
    },
    ['minutes', 'otherwise'],
    'By when a held movement is decided; left out, it waits without an end.',
  ),
  silence: shape(
    { until: text('Last day (YYYY-MM-DD).', 10), why: text('Why nobody is told.') },
    ['until', 'why'],
    'Nobody is told, for a time.',
  ),
  told: shape(
    {
      address: text('Address of the directory.', 254),
      when: withDefault(among(['at-once', 'daily'], 'When.'), 'at-once'),
    },
    ['address'],
    'Somebody who learns of a match.',
  ),
  rule: shape(
    {
      id: text('Stays the same when the rule changes.', 60),
      name: withDefault(text('Short name.', MAX_NAME_LENGTH), ''),
      people: orNull(ref('audience')),
      when: ref('condition'),
      unless: orNull(ref('condition')),
      measure: orNull(ref('measure')),
      bands: list(ref('band'), 'Outcomes; one without a measure.', 12),
      ask: orNull(ref('ask')),
      override: orNull(ref('override')),
      hold: ref('hold'),
      keep: withDefault(among(['excerpts', 'counts'], 'What is kept as evidence.'), 'excerpts'),
      tell: list(ref('told'), 'Who else learns of it.', 20),
      silence: orNull(ref('silence')),
      bindsFrom: orNull(text('Day from which it binds (YYYY-MM-DD).', 10)),
      perRecipient: {
        type: 'boolean',
        default: false,
        description: 'Asked of each recipient on its own, and answered for those it holds for.',
      },
      endsPolicy: {
        type: 'boolean',
        default: false,
        description: 'Later rules of this policy are not read.',
      },
    },
    ['id', 'when', 'bands'],
    'A rule.',
  ),
  ceiling: shape(
    {
      people: EVERYBODY,
      answer: among([...ANSWERS, 'as-written'], 'Strongest answer.'),
      until: orNull(text('Last day (YYYY-MM-DD).', 10)),
    },
    ['answer'],
    'The strongest answer for some people.',
  ),
};

export const schemaWith = (
  name: string,
  body: JsonSchema,
  defs: Readonly<Record<string, JsonSchema>>,
): JsonSchema => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: `uncut-lantern/${name}`,
  ...body,
  $defs: defs,
});
export const schema = (name: string, body: JsonSchema): JsonSchema => schemaWith(name, body, DEFS);

/** Some people of the directory. */
export const AUDIENCE_SCHEMA: JsonSchema = schema('audience', ref('audience'));

const POLICY = {
  name: text('Name.', MAX_NAME_LENGTH),
  purpose: withDefault(text('What it guards, and why.'), ''),
  owner: withDefault(text('Who answers for it.', MAX_NAME_LENGTH), ''),
  channels: list(among(CHANNELS, 'A channel.'), 'Channels it is for.', 20),
  people: EVERYBODY,
  where: { ...ref('whereabouts'), default: {} },
  shared: orNull(ref('condition')),
  rules: list(ref('rule'), 'Rules, in reading order.', MAX_RULES),
  ceilings: list(ref('ceiling'), 'Strongest answers, read from the top.', 50),
};

export const POLICY_SCHEMA = schema('policy', shape(POLICY, ['name'], 'A policy.'));
