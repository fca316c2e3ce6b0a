import { MAX_NAME_LENGTH } from './limits.js';
import { schema } from './policy-schema.js';
import { EVERYBODY, ref, list, orNull, shape, text, withDefault } from './schema-parts.js';

export const TEXT_SCHEMA = schema(
  'text',
  shape(
    {
      name: text('Name.', MAX_NAME_LENGTH),
      words: list(
        shape(
          { language: text('Language (ISO 639-1).', 10), text: text('Words.') },
          ['language', 'text'],
          'Words.',
        ),
        'Words by language.',
        40,
      ),
      guidance: withDefault(text('Where to read more.', 500), ''),
      contact: withDefault(text('Whom to ask.', 300), ''),
    },
    ['name'],
    'Words that people read.',
  ),
);
export const EXCHANGE_SCHEMA = schema(
  'exchange',
  shape(
    {
      name: text('Name.', MAX_NAME_LENGTH),
      from: EVERYBODY,
      to: list(text('Address or domain.', 254), 'Receivers.'),
      patterns: list(text('Pattern that may go.', 200), 'What may go; empty for anything.', 200),
      why: withDefault(text('Why it is legitimate.'), ''),
      until: orNull(text('Last day (YYYY-MM-DD).', 10)),
    },
    ['name'],
    'An entry of the register of exchanges.',
  ),
);
export const SPOT_GROUP_SCHEMA = schema(
  'spots',
  shape(
    {
      name: text('Name.', MAX_NAME_LENGTH),
      why: withDefault(text('What they have in common.'), ''),
      spots: list(ref('spot'), 'Applications, hosts, devices and places; no other groups.', 500),
    },
    ['name'],
    'Applications, sites, devices and places under one name.',
  ),
);
