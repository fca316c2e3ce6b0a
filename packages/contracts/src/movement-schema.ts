import {
  CHANNELS,
  CONNECTIONS,
  DEVICE_KINDS,
  LINK_KINDS,
  NETWORK_STATES,
  SIGN_IN_PROOFS,
  USE_DEEDS,
  USE_WAYS,
} from '@lantern/core/movement';
import { MAX_BODY_LENGTH } from './limits.js';
import {
  among,
  count,
  type JsonSchema,
  list,
  orNull,
  shape,
  shapeOrNull,
  text,
  withDefault,
} from './schema-parts.js';

/** What somebody does with data. */
export const ACTIVITIES = [
  'send',
  'write',
  'share',
  'upload',
  'paste',
  'type',
  'copy',
  'print',
  'capture',
  'export',
  'read',
  'sign-in',
  'connect',
  'question',
  'answer',
] as const;
export type Activity = (typeof ACTIVITIES)[number];

/** Movements in one batch: what an agent that was away for an hour has, and a second's work. */
export const MAX_BATCH = 50;
/** Recipients of one movement that an agent hands in. */
export const MAX_MOVEMENT_RECIPIENTS = 20_000;
/** Files of one movement. */
const MAX_FILES = 50;
/** Base 64 of the largest file that is read (25 MB). */
const MAX_ENCODED = Math.ceil((25 * 1024 * 1024 * 4) / 3) + 4;

const kind = (name: string, fields: Readonly<Record<string, JsonSchema>>): JsonSchema =>
  shape({ kind: { const: name }, ...fields }, ['kind', ...Object.keys(fields)], `One ${name}.`);

const SPOT: JsonSchema = {
  type: 'object',
  required: ['kind'],
  discriminator: { propertyName: 'kind' },
  oneOf: [
    kind('application', { name: text('Name of the application.', 200) }),
    kind('host', { host: text('Host name or address.', 253) }),
    kind('device', {
      device: among(DEVICE_KINDS, 'What kind of thing it is.'),
      name: text('Its name.', 200),
      trusted: { type: 'boolean', description: 'Whether the organisation trusts it.' },
    }),
    kind('place', { path: text('Folders from the outermost, divided by /.', 500) }),
  ],
};

/** Fields of one record at most: a wider table is a matrix. */
const MAX_COLUMNS = 2_000;

/** What is done in a business application. */
const USE: JsonSchema = shapeOrNull(
  {
    deed: among(USE_DEEDS, 'What the person does.'),
    by: among(USE_WAYS, 'On the screen or over the programming interface.'),
    report: orNull(text('Name of the report or list that is taken; null for none.', 200)),
    objects: list(text('A kind of record.', 120), 'Kinds of record it is made of.', 200),
    rows: orNull(count('Records taken; null where it is not known: then rows of tables are counted.')),
    before: orNull(
      count('Records that went out before in the same export, whose size is not known beforehand.'),
    ),
    columns: list(text('Name of a field.', 120), 'Fields of each record.', MAX_COLUMNS),
    rights: list(text('A right.', 200), 'What an application that is connected asks to do.', 200),
    signIn: shapeOrNull(
      {
        at: text('When (RFC 3339).', 40),
        country: orNull(text('Two letters (ISO 3166-1).', 2)),
        proof: withDefault(among(SIGN_IN_PROOFS, 'With what.'), 'not-known'),
      },
      ['at'],
      'The sign-in under which it is done.',
    ),
  },
  ['deed', 'by'],
  'What is done in a business application.',
);

/** A few show what somebody was doing; more would be watching them. */
export const MAX_PICTURES = 5;
/** Enough for a window of 1600 by 1000 as JPEG. */
export const MAX_PICTURE_BYTES = 600 * 1024;
const MAX_PICTURE_ENCODED = Math.ceil(MAX_PICTURE_BYTES / 3) * 4 + 4;

/** One movement as an agent hands it in. Content goes in as it is; what is read of it decides. */
export const MOVEMENT_SCHEMA: JsonSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'uncut-lantern/movement',
  ...shape(
    {
      key: {
        type: 'string',
        minLength: 1,
        maxLength: 100,
        description:
          'Unique for the agent. The same again with the same movement gives the first answer again.',
      },
      channel: among(CHANNELS, 'By which way it moves.'),
      activity: among(ACTIVITIES, 'What the person does.'),
      at: orNull(text('When (RFC 3339); null for now. Not in the future.', 40)),
      person: text('Address of the person who moves it.', 254),
      machine: orNull(text('Name of the machine; null where it is not known.', 120)),
      network: withDefault(among(NETWORK_STATES, 'The network the machine is in.'), 'not-known'),
      to: list(text('An address.', 320), 'Who gets it.', MAX_MOVEMENT_RECIPIENTS),
      guests: list(
        text('An address.', 320),
        'Those of them who are guests: outside, whatever their address.',
        20_000,
      ),
      texts: list(
        shape(
          {
            role: withDefault(among(['subject', 'body'], 'Where in the item it stands.'), 'body'),
            text: text('The text.', MAX_BODY_LENGTH),
          },
          ['text'],
          'A text of the item.',
        ),
        'Texts of the item.',
        20,
      ),
      files: list(
        shape(
          {
            name: text('Its name.', 255),
            base64: {
              type: 'string',
              maxLength: MAX_ENCODED,
              description: 'Its bytes in base 64 (RFC 4648).',
            },
          },
          ['name', 'base64'],
          'A file.',
        ),
        'Files that come along.',
        MAX_FILES,
      ),
      takenFrom: list(SPOT, 'Where it is taken from.', 20),
      putInto: list(SPOT, 'Where it is put.', 20),
      window: orNull(text('Title of the window in which it is done; long numbers in it are masked.', 300)),
      pictures: list(
        shape(
          {
            at: text('When it was taken (RFC 3339), up to five minutes before or after the movement.', 40),
            base64: {
              type: 'string',
              maxLength: MAX_PICTURE_ENCODED,
              description: 'PNG or JPEG in base 64 (RFC 4648).',
            },
          },
          ['at', 'base64'],
          'A picture.',
        ),
        'What the screen showed. Kept with an incident alone; refused on a channel that keeps findings only.',
        MAX_PICTURES,
      ),
      link: orNull(among(LINK_KINDS, 'Who can open the link that is made; null for none.')),
      connection: withDefault(among(CONNECTIONS, 'Whether others can read along.'), 'not-known'),
      use: USE,
    },
    ['key', 'channel', 'activity', 'person'],
    'One movement.',
  ),
};
