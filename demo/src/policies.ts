import {
  DEFAULT_WORD_WEIGHT,
  type Policy,
  type PolicyId,
  type PatternId,
  type RuleId,
  type WordListPattern,
} from '@lantern/core';

const SLACKWATER_ID = '5b0f4a52-6e0d-4a6e-9d0a-51ac0a7e0001';

/** Words of the unannounced ship purchase. */
export const SLACKWATER: WordListPattern = {
  origin: 'own',
  id: SLACKWATER_ID as PatternId,
  name: 'Ship purchase Slackwater',
  kind: 'own-words',
  about:
    'Code name, yard and terms of the second-hand ship that nobody outside may hear of before the announcement.',
  words: [
    'Slackwater',
    'Project Slackwater',
    'MV Corrigan Bay',
    'Halvard drydock',
    'memorandum of agreement Slackwater',
  ].map((text) => ({ text, weight: DEFAULT_WORD_WEIGHT })),
};

const policyId = (last: string) => `8e1d2c30-4b7f-4c12-8a55-00000000000${last}` as PolicyId;
const ruleId = (last: string) => `8e1d2c30-4b7f-4c12-8a55-0000000001${last}` as RuleId;

/** The set that the demo publishes. */
export const POLICIES: readonly Policy[] = [
  {
    id: policyId('1'),
    name: 'Passenger payment data leaves by mail',
    purpose: 'Card numbers of passengers stay inside; refunds go through the payment portal.',
    channels: ['mail'],
    rules: [
      {
        id: ruleId('11'),
        when: {
          kind: 'all',
          of: [
            { kind: 'findings', pattern: 'payment-card', atLeast: 25, distinct: true, certainty: 80 },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
        unless: {
          kind: 'domain',
          quantity: 'every',
          domains: ['cardprocessor.example', 'merrowstrait.example'],
        },
        answer: 'block',
        severity: 'high',
        notice:
          'Refunds to agencies go through the payment portal. Take the card numbers out, or send the list to a colleague. Questions: data care desk, extension 0142.',
        endsPolicy: true,
      },
      {
        id: ruleId('12'),
        when: {
          kind: 'all',
          of: [
            { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 80 },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
        unless: {
          kind: 'domain',
          quantity: 'every',
          domains: ['cardprocessor.example', 'merrowstrait.example'],
        },
        answer: 'note',
        severity: 'medium',
        notice: '',
        endsPolicy: false,
      },
    ],
  },
  {
    id: policyId('2'),
    name: 'Travel documents and bank details',
    purpose:
      'Passport lines go to the customs broker and nowhere else; account numbers in bulk are looked at.',
    channels: ['mail'],
    rules: [
      {
        id: ruleId('21'),
        when: {
          kind: 'all',
          of: [
            {
              kind: 'findings',
              pattern: 'passport-machine-readable',
              atLeast: 1,
              distinct: true,
              certainty: 80,
            },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
        unless: {
          kind: 'domain',
          quantity: 'every',
          domains: ['customs-broker.example', 'merrowstrait.example'],
        },
        answer: 'block',
        severity: 'high',
        notice:
          'Passport lines may be sent to our customs broker only. Use the manifest exchange for everybody else.',
        endsPolicy: false,
      },
      {
        id: ruleId('22'),
        when: {
          kind: 'all',
          of: [
            { kind: 'findings', pattern: 'iban', atLeast: 3, distinct: true, certainty: 80 },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
        unless: null,
        answer: 'note',
        severity: 'low',
        notice: '',
        endsPolicy: false,
      },
    ],
  },
  {
    id: policyId('3'),
    name: 'The ship purchase stays inside',
    purpose: 'Until the announcement, nothing about Slackwater leaves by mail.',
    channels: ['mail'],
    rules: [
      {
        id: ruleId('31'),
        when: {
          kind: 'all',
          of: [
            { kind: 'findings', pattern: SLACKWATER_ID, atLeast: 1, distinct: false, certainty: 80 },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
        unless: null,
        answer: 'block',
        severity: 'critical',
        notice:
          'This mail names something that is not announced. Talk to the Executive Office before you send it to anybody outside.',
        endsPolicy: false,
      },
    ],
  },
  {
    id: policyId('4'),
    name: 'What cannot be read is looked at',
    purpose: 'Archives with a password hide what they hold; somebody should know when they leave.',
    channels: ['mail'],
    rules: [
      {
        id: ruleId('41'),
        when: {
          kind: 'all',
          of: [{ kind: 'unreadable' }, { kind: 'recipient', quantity: 'any', side: 'outside' }],
        },
        unless: null,
        answer: 'note',
        severity: 'low',
        notice: '',
        endsPolicy: false,
      },
    ],
  },
];

export const FIRST_REVISION = {
  name: 'First light',
  reason:
    'The rules we begin with: cards, passports, bank details, the ship purchase, and what cannot be read.',
};
