import { LOWERABLE_EFFECTS, TRUST_SCOPES } from '@lantern/core/policy';
import { among, count, EVERYBODY, type JsonSchema, list, shape, text } from './schema-parts.js';

/** What is done beside an answer. */
export const TREATMENT: JsonSchema = {
  type: 'object',
  required: ['kind'],
  discriminator: { propertyName: 'kind' },
  oneOf: [
    shape(
      { kind: { const: 'mark' }, words: text('Words before the subject.', 60) },
      ['kind', 'words'],
      'Mark it.',
    ),
    shape({ kind: { const: 'no-passing-on' } }, ['kind'], 'It is not to be passed on.'),
    shape({ kind: { const: 'encrypted-connection' } }, ['kind'], 'Over an encrypted connection only.'),
    shape({ kind: { const: 'encrypt-content' } }, ['kind'], 'Encrypted for its receiver (S/MIME).'),
    shape(
      { kind: { const: 'set-label' }, label: text('Id or name of a label.', 200) },
      ['kind', 'label'],
      'It carries this label, unless it carries a higher one.',
    ),
    shape(
      { kind: { const: 'end-access' }, days: count('Days.') },
      ['kind', 'days'],
      'Access ends by itself.',
    ),
    shape(
      {
        kind: { const: 'lower-handling' },
        effects: list(among(LOWERABLE_EFFECTS, 'What they can no longer do.'), 'Effects.', 5),
        people: EVERYBODY,
      },
      ['kind', 'effects'],
      'Some people can do less with what is opened.',
    ),
    shape(
      {
        kind: { const: 'ask-who' },
        minutes: count('Minutes without a new request; 0 asks every time.'),
        trusts: among(TRUST_SCOPES, 'Where the confirmation counts.'),
      },
      ['kind', 'minutes', 'trusts'],
      'The movement waits until the person confirms their identity with a second factor.',
    ),
  ],
};
