import {
  CHANNELS,
  CONNECTIONS,
  FILE_KINDS,
  LINK_KINDS,
  MACHINE_STATES,
  NETWORK_STATES,
  PLACES_IN_ITEM,
  SIGN_IN_PROOFS,
  UNREADABLE_REASONS,
  USE_DEEDS,
  USE_WAYS,
} from '@lantern/core/movement';
import { AMOUNTS, SUM_SCOPES } from '@lantern/core/policy';
import { among, count, type JsonSchema, list, orNull, ref, text, withDefault } from './schema-parts.js';

export const MEASURE = {
  pattern: text('Pattern that is looked for: the id of a ready one, or the name of an own one.', 200),
  distinct: { type: 'boolean', default: true, description: 'Count equal values once.' },
  certainty: withDefault(count('How certain a finding must be, 0 to 100.'), 80),
  where: list(among(PLACES_IN_ITEM, 'Place in the item.'), 'Places that count; empty for all.', 10),
};
const QUANTITY = withDefault(
  among(['any', 'every'], 'Whether one recipient is enough or all must be so.'),
  'any',
);
const AT_LEAST = withDefault(count('Smallest count that holds.'), 1);
const SPOTS = list(ref('spot'), 'Applications, hosts, devices, places, or groups of them.', 200);
const statesOf = (values: readonly string[], description: string): JsonSchema =>
  list(among(values, description), 'Any of these.', values.length);
const OVER = withDefault(among(SUM_SCOPES, 'Which movements are added up.'), 'this-channel');
const HOURS = count('Over how many hours, at most 31 days.');
const MINUTES = count('Over how many minutes, at most a day.');

/** Fields of every kind of clause beside `kind`, and those that must be there. */
export const CLAUSES: Readonly<
  Record<string, readonly [Readonly<Record<string, JsonSchema>>, readonly string[], string]>
> = {
  findings: [{ ...MEASURE, atLeast: AT_LEAST }, ['pattern'], 'The item holds so much of something.'],
  unreadable: [
    { reasons: list(among(UNREADABLE_REASONS, 'Why it cannot be read.'), 'Reasons; empty for any.', 20) },
    [],
    'A part of the item cannot be read.',
  ],
  recipient: [
    { quantity: QUANTITY, side: among(['outside', 'inside'], 'Where recipients are.') },
    ['side'],
    'Recipients are inside or outside.',
  ],
  domain: [
    { quantity: QUANTITY, domains: list(text('A domain; hosts under it count.', 253), 'Domains.') },
    ['domains'],
    'Recipients are at a domain.',
  ],
  country: [
    { quantity: QUANTITY, countries: list(text('Two letters (ISO 3166-1).', 10), 'Countries.', 250) },
    ['countries'],
    'Recipients are in a country.',
  ],
  receivers: [
    { quantity: QUANTITY, people: ref('audience') },
    ['people'],
    'Recipients are among some people.',
  ],
  sender: [{ people: ref('audience') }, ['people'], 'The sender is among some people.'],
  reach: [
    { side: among(['outside', 'anywhere'], 'Whose readers count.'), atLeast: AT_LEAST },
    ['side', 'atLeast'],
    'So many can read it afterwards.',
  ],
  file: [
    {
      kinds: list(among(FILE_KINDS, 'What the bytes are.'), 'Kinds; empty for any.', 20),
      names: list(text('A name; * stands for anything.', 255), 'Names; empty for any.', 200),
      atLeastKilobytes: orNull(count('Smallest size in kilobytes.')),
      misnamed: {
        type: 'boolean',
        default: false,
        description: 'Only files whose name claims another kind.',
      },
    },
    [],
    'A file came along that meets all of this.',
  ],
  size: [
    { atLeastKilobytes: count('Kilobytes of everything together.') },
    ['atLeastKilobytes'],
    'It is large.',
  ],
  time: [
    {
      from: text('HH:MM, inclusive.', 5),
      to: text('HH:MM, exclusive; may be past midnight.', 5),
      days: list(count('1 Monday to 7 Sunday.'), 'Days it begins on; empty for every day.', 7),
      zone: withDefault(text('Zone of the IANA database.', 60), 'UTC'),
      ofSender: {
        type: 'boolean',
        default: false,
        description: "By the sender's own clock where the directory knows their zone.",
      },
    },
    ['from', 'to'],
    'It is sent at a time of day.',
  ],
  rate: [
    {
      of: withDefault(among(['all', 'outside', 'matched'], 'Which movements of the sender count.'), 'all'),
      atLeast: AT_LEAST,
      minutes: MINUTES,
    },
    ['atLeast', 'minutes'],
    'The sender moves so much in a short time.',
  ],
  tries: [
    { atLeast: AT_LEAST, minutes: MINUTES },
    ['minutes'],
    'The same content was stopped or asked about before.',
  ],
  exchange: [
    { exchanges: list(text('Entry of the register.', 200), 'Entries; empty for any.', 200) },
    [],
    'It stands in the register of exchanges.',
  ],
  label: [
    {
      carries: withDefault(
        among(['one-of', 'none'], 'Whether it carries one of these or none at all.'),
        'one-of',
      ),
      labels: list(text('Id of a label.', 200), 'Labels; empty for any.', 200),
    },
    [],
    'The item or one of its files carries a label.',
  ],
  'taken-from': [{ spots: SPOTS }, ['spots'], 'It was taken from one of these.'],
  'put-into': [{ spots: SPOTS }, ['spots'], 'It is put into one of these.'],
  link: [
    { links: list(among(LINK_KINDS, 'Who can open the link.'), 'Kinds; empty for any.', LINK_KINDS.length) },
    [],
    'A link is made.',
  ],
  connection: [
    { states: statesOf(CONNECTIONS, 'Whether others can read along.') },
    ['states'],
    'The way to the target is so.',
  ],
  machine: [
    { states: statesOf(MACHINE_STATES, 'Whether the organisation looks after it.') },
    ['states'],
    'The machine it is moved with is so.',
  ],
  network: [
    { states: statesOf(NETWORK_STATES, 'Whether the organisation trusts it.') },
    ['states'],
    'The network the machine is in is so.',
  ],
  rows: [{ atLeast: AT_LEAST }, ['atLeast'], 'Its tables have so many rows together.'],
  use: [
    {
      deeds: list(among(USE_DEEDS, 'What is done.'), 'Deeds; empty for any.', USE_DEEDS.length),
      by: orNull(among(USE_WAYS, 'On the screen or over the interface; null for either.')),
      objects: list(text('A kind of record; * stands for anything.', 120), 'Kinds; empty for any.', 200),
      reports: list(text('Name of a report; * stands for anything.', 200), 'Reports; empty for any.', 200),
    },
    [],
    'Something is done in a business application.',
  ],
  columns: [{ atLeast: AT_LEAST }, ['atLeast'], 'Each record that is taken has so many fields.'],
  fields: [
    { pattern: MEASURE.pattern, certainty: MEASURE.certainty, atLeast: AT_LEAST },
    ['pattern'],
    'So many columns hold something.',
  ],
  rights: [
    { rights: list(text('A right; * stands for anything.', 200), 'Rights; one is enough.', 200) },
    ['rights'],
    'Another application that is being connected asks for a right.',
  ],
  'sign-in': [
    {
      countries: list(text('Two letters (ISO 3166-1).', 10), 'Countries; empty for any.', 250),
      elsewhere: {
        type: 'boolean',
        default: false,
        description: 'It was made anywhere but in these countries.',
      },
      proofs: list(among(SIGN_IN_PROOFS, 'With what.'), 'Empty for any.', SIGN_IN_PROOFS.length),
      olderThanMinutes: orNull(count('It was made longer ago than so many minutes; null for any age.')),
    },
    [],
    'The sign-in under which it is done is so.',
  ],
  sum: [
    { of: among(AMOUNTS, 'What is added up.'), over: OVER, atLeast: AT_LEAST, hours: HOURS },
    ['of', 'atLeast', 'hours'],
    'The sender moved so much within some hours, this counted.',
  ],
  values: [
    {
      pattern: MEASURE.pattern,
      certainty: MEASURE.certainty,
      over: OVER,
      atLeast: AT_LEAST,
      hours: HOURS,
    },
    ['pattern', 'atLeast', 'hours'],
    'The sender moved so many different values within some hours, these counted.',
  ],
  usual: [
    {
      of: among(AMOUNTS, 'What is added up.'),
      over: OVER,
      times: { type: 'number', description: 'So many times the usual.' },
      atLeast: AT_LEAST,
      hours: HOURS,
    },
    ['of', 'times', 'atLeast', 'hours'],
    'The sender moves far more than they usually do in as many hours.',
  ],
  channel: [
    { channels: list(among(CHANNELS, 'A channel.'), 'Channels.', 20) },
    ['channels'],
    'It goes by a channel.',
  ],
};
