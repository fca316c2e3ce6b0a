import { DEFAULT_WORD_WEIGHT, type WordListPattern } from '@lantern/core/detection';
import {
  type AnswerText,
  type Band,
  type Condition,
  EVERYWHERE,
  type Exchange,
  type ExchangeId,
  type Measure,
  type Policy,
  type Rule,
  type SpotGroup,
  type SpotGroupId,
  type TextId,
} from '@lantern/core/policy';
import { type PatternId, type PolicyId, type RuleId } from '@lantern/core/shared';

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

const textId = (last: string) => `8e1d2c30-4b7f-4c12-8a55-00000000020${last}` as TextId;
const exchangeId = (last: string) => `8e1d2c30-4b7f-4c12-8a55-00000000030${last}` as ExchangeId;

const DESK = 'data care desk, extension 0142';

/** Words that people read. */
export const TEXTS: readonly AnswerText[] = [
  {
    id: textId('1'),
    name: 'Refunds go through the portal',
    words: [
      {
        language: 'en',
        text: 'Refunds to agencies go through the payment portal. Remove the card numbers, or send the list to a colleague. Questions: {contact}.',
      },
      {
        language: 'de',
        text: 'Erstattungen an Agenturen laufen über das Zahlungsportal. Nehmen Sie die Kartennummern heraus, oder senden Sie die Liste an eine Kollegin. Fragen: {contact}.',
      },
    ],
    guidance: 'https://intranet.merrowstrait.example/refunds',
    contact: DESK,
  },
  {
    id: textId('2'),
    name: 'Is this list meant to leave?',
    words: [
      {
        language: 'en',
        text: 'This mail takes {found} to {to}. Is it meant to leave? Your answer is recorded with it.',
      },
      {
        language: 'de',
        text: 'Diese Mail bringt {found} zu {to}. Soll sie hinausgehen? Ihre Antwort wird festgehalten.',
      },
    ],
    guidance: 'https://intranet.merrowstrait.example/refunds',
    contact: DESK,
  },
  {
    id: textId('3'),
    name: 'Passport lines go to the broker',
    words: [
      {
        language: 'en',
        text: 'Passport lines go to the customs broker and to nobody else. Send the manifest to declarations@customs-broker.example, or take the passport column out.',
      },
    ],
    guidance: '',
    contact: DESK,
  },
  {
    id: textId('4'),
    name: 'Not announced yet',
    words: [
      {
        language: 'en',
        text: 'This mail names something that is not announced. Talk to the Executive Office before you send it to anybody outside.',
      },
    ],
    guidance: '',
    contact: 'Executive Office',
  },
  {
    id: textId('5'),
    name: 'This file stays with us',
    words: [
      {
        language: 'en',
        text: 'This file contains {found} and cannot be shared with {to}. Share it with colleagues, or remove the values first.',
      },
      {
        language: 'de',
        text: 'Diese Datei enthält {found} und kann nicht für {to} geöffnet werden. Teilen Sie sie im Haus, oder nehmen Sie die Werte heraus; dann geht es auch nach draußen.',
      },
    ],
    guidance: '',
    contact: DESK,
  },
  {
    id: textId('6'),
    name: 'Not into this page',
    words: [
      {
        language: 'en',
        text: 'What goes into this page is kept by others: {found} stays with us. Take it out, or use a program of the house. Questions: {contact}.',
      },
    ],
    guidance: '',
    contact: DESK,
  },
  {
    id: textId('7'),
    name: 'Not out of this machine',
    words: [
      {
        language: 'en',
        text: 'This stays in the programs it belongs to. Put it back there or into the manifest editor, or use a drive of the house. Questions: {contact}.',
      },
    ],
    guidance: '',
    contact: DESK,
  },
  {
    id: textId('8'),
    name: 'Much out of the ledger',
    words: [
      {
        language: 'en',
        text: 'This is more than most people take out of the ledger. To export all of it, confirm your identity. Otherwise export fewer records.',
      },
    ],
    guidance: '',
    contact: DESK,
  },
];

/** The register of legitimate exchanges. */
export const EXCHANGES: readonly Exchange[] = [
  {
    id: exchangeId('1'),
    name: 'Card lists to the card processor',
    from: { with: [], without: [] },
    to: ['cardprocessor.example'],
    patterns: [],
    why: 'Contract of 2024, section 4: disputed payments are listed with their numbers.',
    until: null,
  },
  {
    id: exchangeId('2'),
    name: 'Manifests to the customs broker',
    from: { with: [], without: [] },
    to: ['customs-broker.example'],
    patterns: [],
    why: 'Entry declarations need passport lines.',
    until: null,
  },
];

const spotsId = (last: string) => `8e1d2c30-4b7f-4c12-8a55-00000000040${last}` as SpotGroupId;

/** Applications, sites and devices under one name. */
export const SPOTS: readonly SpotGroup[] = [
  {
    id: spotsId('1'),
    name: 'Assistants that learn from what they are told',
    why: 'What is typed there may be kept and read by others. No contract covers any of them.',
    spots: [
      { kind: 'host', host: 'askmarlow.example', under: true },
      { kind: 'host', host: 'draftling.example', under: true },
    ],
  },
  {
    id: spotsId('2'),
    name: 'Where bookings live',
    why: 'What is taken from the booking system may go back there or into the manifest editor, and nowhere else.',
    spots: [
      { kind: 'application', name: 'Booking system' },
      { kind: 'application', name: 'Manifest editor' },
    ],
  },
  {
    id: spotsId('3'),
    name: 'Webmail of others',
    why: 'Private mailboxes opened in a browser.',
    spots: [{ kind: 'host', host: 'pigeonpost.example', under: true }],
  },
];

const OUTSIDE: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };
const EVERYBODY = { with: [], without: [] };

function holds(pattern: string, atLeast: number, distinct = true): Condition {
  return { kind: 'findings', pattern, atLeast, distinct, certainty: 80, where: [] };
}

function band(answer: Band['answer'], over: Partial<Band> = {}): Band {
  return { from: 1, to: null, answer, severity: 'low', treatments: [], text: null, ...over };
}

function rule(last: string, over: Partial<Rule> & Pick<Rule, 'when' | 'bands'>): Rule {
  return {
    id: ruleId(last),
    name: '',
    people: null,
    unless: null,
    measure: null,
    ask: null,
    override: null,
    keep: 'excerpts',
    tell: [],
    silence: null,
    bindsFrom: null,
    perRecipient: false,
    endsPolicy: false,
    ...over,
  };
}

function policy(last: string, over: Partial<Policy> & Pick<Policy, 'name' | 'purpose' | 'rules'>): Policy {
  return {
    id: policyId(last),
    owner: 'Data care desk',
    channels: ['mail'],
    people: EVERYBODY,
    where: EVERYWHERE,
    shared: null,
    ceilings: [],
    ...over,
  };
}

const CARDS: Measure = { pattern: 'payment-card', distinct: true, certainty: 80, where: [] };

/** The set that the demo publishes. */
export const POLICIES: readonly Policy[] = [
  policy('1', {
    name: 'Passenger payment data leaves by mail',
    purpose: 'Card numbers of passengers stay inside; refunds go through the payment portal.',
    rules: [
      rule('11', {
        name: 'Card numbers to the outside',
        when: OUTSIDE,
        unless: { kind: 'exchange', exchanges: [exchangeId('1')] },
        measure: CARDS,
        bands: [
          band('note', { to: 4, severity: 'medium' }),
          band('ask', { from: 5, to: 24, severity: 'medium', text: textId('2') }),
          band('block', { from: 25, severity: 'high', text: textId('1') }),
        ],
        ask: {
          reasons: [
            { words: 'These passengers booked through this agency', leads: 'goes-on' },
            { words: 'An authority asked for it', leads: 'goes-on' },
            { words: 'The numbers are made up', leads: 'goes-on' },
            { words: 'Wrong file, take me back', leads: 'stays' },
          ],
          minutes: 60,
          closes: { time: '17:30', zone: 'Europe/Amsterdam' },
          otherwise: 'stays',
        },
        override: { mayAsk: EVERYBODY, decides: 'approvers' },
        endsPolicy: true,
      }),
    ],
  }),
  policy('2', {
    name: 'Travel documents and bank details',
    purpose:
      'Passport lines go to the customs broker and nowhere else; account numbers in bulk are looked at.',
    rules: [
      rule('21', {
        name: 'Passport lines',
        when: { kind: 'all', of: [holds('passport-machine-readable', 1), OUTSIDE] },
        unless: { kind: 'exchange', exchanges: [exchangeId('2')] },
        bands: [band('block', { severity: 'high', text: textId('3') })],
        override: {
          mayAsk: { with: [{ kind: 'group', group: 'Leads' }], without: [] },
          decides: 'approvers',
        },
      }),
      rule('22', {
        name: 'Account numbers in bulk',
        when: { kind: 'all', of: [holds('iban', 3), OUTSIDE] },
        bands: [band('note')],
      }),
    ],
  }),
  policy('3', {
    name: 'The ship purchase stays inside',
    purpose: 'Until the announcement, nothing about Slackwater leaves by mail.',
    owner: 'Executive Office',
    rules: [
      rule('31', {
        when: { kind: 'all', of: [holds(SLACKWATER_ID, 1, false), OUTSIDE] },
        bands: [band('block', { severity: 'critical', text: textId('4') })],
      }),
    ],
  }),
  policy('4', {
    name: 'What cannot be read is looked at',
    purpose: 'Archives with a password hide what they hold; somebody should know when they leave.',
    rules: [
      rule('41', {
        when: { kind: 'all', of: [{ kind: 'unreadable', reasons: [] }, OUTSIDE] },
        bands: [band('note')],
      }),
    ],
  }),
  policy('5', {
    name: 'Guests in chats',
    purpose: 'What may not leave by mail does not leave through a chat with guests either.',
    channels: ['chat'],
    rules: [
      rule('51', {
        name: 'Cards and passport lines',
        when: {
          kind: 'all',
          of: [
            { kind: 'any', of: [holds('payment-card', 1), holds('passport-machine-readable', 1)] },
            OUTSIDE,
          ],
        },
        bands: [band('block', { severity: 'high', text: textId('1') })],
      }),
      rule('52', {
        name: 'The ship purchase',
        when: { kind: 'all', of: [holds(SLACKWATER_ID, 1, false), OUTSIDE] },
        bands: [band('block', { severity: 'critical', text: textId('4') })],
      }),
    ],
  }),
  policy('6', {
    name: 'Shared drives',
    purpose: 'Files with cards, passport lines or the ship purchase are not opened to the outside.',
    channels: ['drive'],
    rules: [
      rule('61', {
        name: 'Sensitive files to the outside',
        when: {
          kind: 'all',
          of: [
            {
              kind: 'any',
              of: [
                holds('payment-card', 5),
                holds('passport-machine-readable', 1),
                holds(SLACKWATER_ID, 1, false),
              ],
            },
            { kind: 'any', of: [OUTSIDE, { kind: 'link', links: ['whoever-holds-it'] }] },
          ],
        },
        bands: [band('block', { severity: 'high', text: textId('5') })],
        override: { mayAsk: EVERYBODY, decides: 'approvers' },
      }),
      rule('62', {
        name: 'Links for everybody inside',
        when: {
          kind: 'all',
          of: [holds('passport-machine-readable', 1), { kind: 'link', links: ['whole-house'] }],
        },
        bands: [band('advise', { text: textId('5') })],
      }),
    ],
  }),
  policy('7', {
    name: 'Assistants, private mailboxes and open forms',
    purpose: 'What is typed or uploaded to a site may be kept by others.',
    channels: ['browser'],
    rules: [
      rule('71', {
        name: 'Assistants learn nothing of the ship or of passengers',
        when: {
          kind: 'all',
          of: [
            { kind: 'put-into', spots: [{ kind: 'spots', called: spotsId('1') }] },
            {
              kind: 'any',
              of: [
                holds(SLACKWATER_ID, 1, false),
                holds('payment-card', 1),
                holds('passport-machine-readable', 1),
              ],
            },
          ],
        },
        bands: [band('block', { severity: 'high', text: textId('6') })],
        endsPolicy: true,
      }),
      rule('72', {
        name: 'Private mailboxes',
        when: {
          kind: 'all',
          of: [
            { kind: 'put-into', spots: [{ kind: 'spots', called: spotsId('3') }] },
            { kind: 'any', of: [holds('payment-card', 1), holds('iban', 3)] },
          ],
        },
        bands: [band('ask', { severity: 'medium', text: textId('6') })],
        ask: {
          reasons: [
            { words: 'It is my own card', leads: 'goes-on' },
            { words: 'The numbers are made up', leads: 'goes-on' },
            { words: 'Take it back', leads: 'stays' },
          ],
          minutes: 30,
          otherwise: 'stays',
        },
      }),
      rule('73', {
        name: 'Forms that others can read',
        when: {
          kind: 'all',
          of: [{ kind: 'connection', states: ['readable'] }, holds('payment-card', 1)],
        },
        bands: [band('block', { severity: 'high', text: textId('6') })],
      }),
    ],
  }),
  policy('8', {
    name: 'What leaves a machine',
    purpose: 'Bookings stay where they live; strange drives and printers take no lists.',
    channels: ['endpoint'],
    rules: [
      rule('81', {
        name: 'Bookings go back, or into the manifest',
        when: { kind: 'taken-from', spots: [{ kind: 'application', name: 'Booking system' }] },
        unless: { kind: 'put-into', spots: [{ kind: 'spots', called: spotsId('2') }] },
        bands: [band('block', { severity: 'medium', text: textId('7') })],
        override: { mayAsk: EVERYBODY, decides: 'approvers' },
        endsPolicy: true,
      }),
      rule('82', {
        name: 'Strange drives',
        when: {
          kind: 'all',
          of: [
            {
              kind: 'put-into',
              spots: [
                { kind: 'device', device: 'plugged-in', name: '', trusted: false },
                { kind: 'device', device: 'other-machine', name: '', trusted: false },
                { kind: 'device', device: 'session-end', name: '', trusted: false },
              ],
            },
            { kind: 'any', of: [holds('payment-card', 1), holds('passport-machine-readable', 1)] },
          ],
        },
        bands: [band('block', { severity: 'high', text: textId('7') })],
      }),
      rule('83', {
        name: 'Printers that are not managed',
        when: {
          kind: 'all',
          of: [
            {
              kind: 'put-into',
              spots: [{ kind: 'device', device: 'printer', name: '', trusted: false }],
            },
            holds('passport-machine-readable', 1),
          ],
        },
        bands: [band('ask', { severity: 'medium', text: textId('7') })],
        ask: {
          reasons: [
            { words: 'The port needs it on paper', leads: 'goes-on' },
            { words: 'I will print it at the office', leads: 'stays' },
          ],
          minutes: 30,
          otherwise: 'stays',
        },
      }),
    ],
  }),
  policy('9', {
    name: 'What leaves the ledger',
    purpose:
      'Large exports need a second factor, in one piece or in many. Applications with wide rights wait for an approver.',
    channels: ['business'],
    rules: [
      rule('91', {
        name: 'Everything at once',
        when: {
          kind: 'all',
          of: [
            { kind: 'rows', atLeast: 20_000 },
            { kind: 'fields', pattern: 'payment-card', certainty: 80, atLeast: 1 },
          ],
        },
        bands: [band('hold', { severity: 'high', text: textId('8') })],
        hold: { minutes: 480, next: 'authors', otherwise: 'stays' },
        endsPolicy: true,
      }),
      rule('92', {
        name: 'Much at once',
        when: { kind: 'rows', atLeast: 5_001 },
        bands: [
          band('note', {
            severity: 'medium',
            text: textId('8'),
            treatments: [{ kind: 'ask-who', minutes: 15, trusts: 'same-application' }],
          }),
        ],
        endsPolicy: true,
      }),
      rule('93', {
        name: 'Much within a day, in small pieces',
        when: {
          kind: 'all',
          of: [
            { kind: 'use', deeds: ['export', 'read'], by: null, objects: [], reports: [] },
            { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_001, hours: 24 },
          ],
        },
        bands: [
          band('advise', {
            severity: 'medium',
            text: textId('8'),
            treatments: [{ kind: 'ask-who', minutes: 15, trusts: 'same-application' }],
          }),
        ],
      }),
      rule('94', {
        name: 'Another application asks for much',
        when: {
          kind: 'all',
          of: [
            { kind: 'use', deeds: ['connect'], by: null, objects: [], reports: [] },
            { kind: 'rights', rights: ['*all*', '*export*'] },
          ],
        },
        bands: [band('hold', { severity: 'high', text: textId('8') })],
      }),
      rule('95', {
        name: 'A password alone, from a machine that is not managed',
        when: {
          kind: 'all',
          of: [
            { kind: 'use', deeds: ['sign-in'], by: null, objects: [], reports: [] },
            {
              kind: 'sign-in',
              countries: [],
              elsewhere: false,
              proofs: ['password'],
              olderThanMinutes: null,
            },
            { kind: 'machine', states: ['strange', 'not-known'] },
          ],
        },
        bands: [
          band('note', {
            severity: 'medium',
            text: textId('8'),
            treatments: [{ kind: 'ask-who', minutes: 0, trusts: 'same-application' }],
          }),
        ],
      }),
    ],
  }),
];

export const FIRST_REVISION = {
  name: 'First light',
  reason:
    'The rules we begin with: cards, passports, bank details, the ship purchase, and what cannot be read.',
};
