import { MAX_NAME_LENGTH } from './limits.js';
import { schema } from './policy-schema.js';
import { among, count, type JsonSchema, list, orNull, shape, text, withDefault } from './schema-parts.js';

const WEIGHTS = (names: readonly string[]): JsonSchema =>
  shape(Object.fromEntries(names.map((name) => [name, count('Log-odds.')])), [], 'Weights in log-odds.');
const words = (description: string): JsonSchema => list(text('A word.', 300), description, 5_000);

/** Own patterns as files hold them. Records and what was learnt from samples never leave the server: they are named only. */
export const PATTERN_SCHEMA = schema('pattern', {
  type: 'object',
  required: ['pattern'],
  discriminator: { propertyName: 'pattern' },
  oneOf: [
    shape(
      {
        pattern: { const: 'words' },
        id: text('Stays the same when the list changes.', 60),
        name: text('Name.', MAX_NAME_LENGTH),
        about: withDefault(text('What it is.'), ''),
        words: list(
          shape(
            { text: text('A word or phrase.', 300), weight: withDefault(count('Log-odds.'), 3) },
            ['text'],
            'An entry.',
          ),
          'Entries.',
          100_000,
        ),
        threshold: orNull(count('Log-odds that different words must come to together.')),
        inside: { type: 'boolean', default: false, description: 'Found inside longer words too.' },
      },
      ['pattern', 'name', 'words'],
      'An own word list.',
    ),
    shape(
      {
        pattern: { const: 'expression' },
        id: text('Stays the same when it changes.', 60),
        name: text('Name.', MAX_NAME_LENGTH),
        about: withDefault(text('What it is.'), ''),
        expression: text('The expression; it must run in linear time.', 2_000),
        caseMatters: { type: 'boolean', default: false, description: 'Capitals matter.' },
        check: withDefault(text('Check method.', 20), 'none'),
        namingWords: words('Its own names.'),
        supportingWords: words('Words of its subject.'),
        counterWords: words('Words that speak against it.'),
        wordDistance: withDefault(count('Characters within which a word counts.'), 60),
        exclusions: {
          ...shape(
            {
              values: words('Values never found.'),
              words: words('Words never in it.'),
              ranges: list(
                shape({ from: text('From.', 100), to: text('To.', 100) }, ['from', 'to'], 'A range.'),
                'Ranges never found.',
                5_000,
              ),
            },
            [],
            'What is never found.',
          ),
          default: {},
        },
        weights: WEIGHTS(['shape', 'namingWord', 'supportingWord', 'counterWord']),
      },
      ['pattern', 'name', 'expression', 'weights'],
      'An own expression.',
    ),
    shape(
      {
        pattern: { const: 'weights' },
        id: text('The ready pattern.', 80),
        name: text('Its name.', MAX_NAME_LENGTH),
        weights: {
          type: 'object',
          additionalProperties: { type: 'number' },
          description: 'Weights in log-odds.',
        },
      },
      ['pattern', 'id', 'weights'],
      'Changed weights of a ready pattern.',
    ),
    shape(
      {
        pattern: { const: 'elsewhere' },
        id: text('The pattern on its server.', 60),
        name: text('Its name.', MAX_NAME_LENGTH),
        about: withDefault(text('What it is.'), ''),
        from: among(['records', 'documents'], 'What it is made from.'),
      },
      ['pattern', 'id', 'name', 'from'],
      'Own records or documents, which stay on the server.',
    ),
  ],
});
