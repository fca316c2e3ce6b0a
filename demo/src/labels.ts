import { type Audience } from '@lantern/core/directory';
import {
  type Automatic,
  type Handling,
  type Label,
  type Marking,
  type Offer,
  OPEN_HANDLING,
  OPEN_PLACE,
  type WholeLabelSet,
} from '@lantern/core/labels';
import { type AutomaticId, type LabelId, type OfferId, type PatternId } from '@lantern/core/shared';
import { SLACKWATER } from './policies.js';

const labelId = (last: string) => `3c9a7e10-5d2b-4f86-9b11-00000000000${last}` as LabelId;
const offerId = (last: string) => `3c9a7e10-5d2b-4f86-9b11-00000000010${last}` as OfferId;
const automaticId = (last: string) => `3c9a7e10-5d2b-4f86-9b11-00000000020${last}` as AutomaticId;

const department = (...names: readonly string[]): Audience => ({
  with: names.map((name) => ({ kind: 'department', department: name })),
  without: [],
});
const named = (to: Audience, days: number | null = null) => ({
  kind: 'named' as const,
  grants: [{ to, days }],
});
const NOBODY = { kind: 'named' as const, grants: [] };

const top = (text: string, colour: string): Marking => ({ place: 'top', text, points: 9, colour, slant: 0 });
const foot = (text: string): Marking => ({ place: 'foot', text, points: 8, colour: '#4a4a4a', slant: 0 });
const across = (text: string, colour: string): Marking => ({
  place: 'across',
  text,
  points: 56,
  colour,
  slant: 42,
});

const inside: Handling = {
  ...OPEN_HANDLING,
  read: { kind: 'inside' },
  change: { kind: 'inside' },
  'take-out': { kind: 'inside' },
  'make-another': { kind: 'inside' },
  'pass-on': { kind: 'inside' },
};
const every: Label['carriers'] = ['document', 'mail', 'chat', 'calendar', 'place'];

/** Labels of the ferry line, in its own words. Ranks leave room between each other. */
const LABELS: readonly Label[] = [
  {
    id: labelId('1'),
    name: 'Open water',
    rank: 100,
    family: 'Everyday',
    colour: '#3f7a57',
    choosing: [
      {
        language: 'en',
        when: 'Anybody may read it: timetables, fares, press texts, job offers.',
        not: 'Not before it is released: until then it is Ship’s company.',
      },
      {
        language: 'de',
        when: 'Jede und jeder darf es lesen: Fahrpläne, Preise, Pressetexte, Stellen.',
        not: 'Nicht vor der Freigabe: bis dahin ist es Ship’s company.',
      },
    ],
    handling: OPEN_HANDLING,
    markings: [foot('{label} · released by {owner}, {date}')],
    carriers: every,
    foreign: [],
    retired: false,
  },
  {
    id: labelId('2'),
    name: 'Ship’s company',
    rank: 300,
    family: 'Everyday',
    colour: '#2f6690',
    choosing: [
      {
        language: 'en',
        when: 'Ordinary work that stays among colleagues: plans, rosters, notes, internal mail.',
        not: 'Not for names of passengers or crew with their numbers: choose Passenger care or Sick bay.',
      },
      {
        language: 'de',
        when: 'Gewöhnliche Arbeit, die unter Kollegen bleibt: Pläne, Listen, Notizen, interne Post.',
        not: 'Nicht für Fahrgäste oder Besatzung mit ihren Nummern: dann Passenger care oder Sick bay.',
      },
    ],
    handling: inside,
    markings: [top('{label}', '#2f5570')],
    carriers: every,
    foreign: [{ field: 'Classification', value: 'Internal use' }],
    retired: false,
  },
  {
    id: labelId('3'),
    name: 'Passenger care',
    rank: 500,
    family: 'People',
    colour: '#7a5c1e',
    choosing: [
      {
        language: 'en',
        when: 'It tells who travels, how they pay or where they live: manifests, refunds, complaints.',
        not: 'Not for figures without names: those are Ship’s company.',
      },
    ],
    handling: {
      read: { kind: 'inside' },
      change: named(department('Passenger Services', 'Freight Desk', 'Legal and Claims')),
      'take-out': named(department('Passenger Services', 'Freight Desk')),
      'make-another': named(department('Passenger Services', 'Freight Desk', 'Legal and Claims')),
      'pass-on': named({
        with: [
          { kind: 'department', department: 'Passenger Services' },
          { kind: 'domain', domain: 'customs-broker.example' },
        ],
        without: [],
      }),
    },
    markings: [top('{label} · holds personal data', '#6b4e12'), foot('{handling}')],
    carriers: ['document', 'mail', 'chat', 'place'],
    foreign: [],
    place: { ...OPEN_PLACE, outside: 'named', signIn: true, strange: 'look-only' },
    retired: false,
  },
  {
    id: labelId('4'),
    name: 'Sick bay',
    rank: 600,
    family: 'People',
    colour: '#8a3d5c',
    choosing: [
      {
        language: 'en',
        when: 'Health of crew or passengers: certificates, incidents on board, fitness for duty.',
        not: 'Not for absences without a cause: those are Ship’s company.',
      },
    ],
    handling: {
      read: named({
        with: [
          { kind: 'department', department: 'Crewing' },
          { kind: 'group', group: 'Leads' },
        ],
        without: [],
      }),
      change: named(department('Crewing')),
      'take-out': NOBODY,
      'make-another': named(department('Crewing'), 30),
      'pass-on': { kind: 'setter' },
    },
    markings: [top('{label} · for crewing only', '#7a2b4c')],
    carriers: ['document', 'mail'],
    foreign: [],
    retired: false,
  },
  {
    id: labelId('5'),
    name: 'Bridge only',
    rank: 700,
    family: 'Ship and port',
    colour: '#8f3b1f',
    choosing: [
      {
        language: 'en',
        when: 'It would help somebody to harm a ship or a port: security plans, access codes, patrols, keys.',
        not: 'Not for safety instructions that passengers must know: those are Open water.',
      },
    ],
    handling: {
      read: named({
        with: [
          { kind: 'department', department: 'Port Operations' },
          { kind: 'department', department: 'Fleet' },
          { kind: 'group', group: 'Leads' },
        ],
        without: [],
      }),
      change: named(department('Port Operations', 'Fleet')),
      'take-out': NOBODY,
      'make-another': NOBODY,
      'pass-on': named({ with: [{ kind: 'group', group: 'Leads' }], without: [] }),
    },
    markings: [
      top('{label} · {owner}', '#8f3b1f'),
      foot('Set {how} on {date}'),
      across('{label}', '#ecd9d2'),
    ],
    carriers: ['document', 'mail', 'place'],
    foreign: [],
    place: {
      found: 'its-people',
      entry: 'owner-adds',
      outside: 'nobody',
      signIn: true,
      strange: 'closed',
      network: 'look-only',
      copies: { kind: 'none', except: null, kinds: ['picture'] },
    },
    retired: false,
  },
  {
    id: labelId('6'),
    name: 'Sealed hold',
    rank: 900,
    family: 'Ship and port',
    colour: '#5b2a86',
    choosing: [
      {
        language: 'en',
        when: 'The unannounced purchase, and nothing else. You name the people yourself.',
        not: 'Not for the fleet plan without the purchase: that is Bridge only.',
      },
    ],
    handling: {
      read: { kind: 'setter' },
      change: { kind: 'setter' },
      'take-out': NOBODY,
      'make-another': NOBODY,
      'pass-on': NOBODY,
    },
    markings: [top('{label} · only for those named by {owner}', '#5b2a86'), across('{label}', '#e6dcef')],
    carriers: ['document', 'mail'],
    foreign: [],
    retired: false,
  },
];

const EVERYBODY: Audience = { with: [], without: [] };
const [open, company, passenger, sickBay, bridge, sealed] = LABELS.map(({ id }) => id) as [
  LabelId,
  LabelId,
  LabelId,
  LabelId,
  LabelId,
  LabelId,
];

const OFFERS: readonly Offer[] = [
  {
    id: offerId('1'),
    name: 'Those who buy the ship',
    people: department('Executive Office'),
    carriers: ['document', 'mail'],
    labels: [company, open, bridge, sealed],
    starts: { kind: 'bare' },
    needs: 'a-label',
    lowering: 'second-person',
    follows: 'takes-highest',
    from: null,
    telling:
      'You can seal what belongs to the purchase. You name the people who may read it; taking the label off needs a colleague.',
  },
  {
    id: offerId('2'),
    name: 'Everybody at a desk',
    people: EVERYBODY,
    carriers: ['document'],
    labels: [company, open, passenger, sickBay, bridge],
    starts: { kind: 'proposed', label: company },
    needs: 'a-label',
    lowering: 'reason',
    follows: 'takes-highest',
    from: null,
    telling:
      'Documents carry a label from now on. One is proposed; choose another where it does not fit. Going down asks for a reason, which is kept.',
  },
  {
    id: offerId('4'),
    name: 'Everybody’s mail',
    people: EVERYBODY,
    carriers: ['mail'],
    labels: [company, open, passenger, sickBay, bridge],
    starts: { kind: 'bare' },
    needs: 'nothing',
    lowering: 'reason',
    follows: 'takes-highest',
    from: null,
    telling: 'A mail can carry a label, and takes the highest one of its files by itself.',
  },
  {
    id: offerId('3'),
    name: 'Chats and appointments',
    people: EVERYBODY,
    carriers: ['chat', 'calendar'],
    labels: [company, open, passenger],
    starts: { kind: 'bare' },
    needs: 'nothing',
    lowering: 'nothing',
    follows: 'stands-alone',
    from: null,
    telling: 'Rooms and appointments can carry a label. Nothing has to.',
  },
];

const term = (pattern: string, atLeast: number, certainty = 80) => ({
  pattern: pattern as PatternId,
  distinct: true,
  certainty,
  atLeast,
});
const rule = (
  last: string,
  over: Pick<Automatic, 'name' | 'label' | 'content'> & Partial<Automatic>,
): Automatic => ({
  id: automaticId(last),
  quantity: 'any',
  kinds: [],
  places: [],
  sharedWith: 'anybody',
  does: 'apply',
  lowersPeople: false,
  atMost: null,
  ...over,
});

const AUTOMATIC: readonly Automatic[] = [
  rule('1', {
    name: 'Words of the purchase',
    label: sealed,
    content: [term(SLACKWATER.id, 2, 70)],
    does: 'suggest',
  }),
  rule('2', {
    name: 'Passports and payment cards',
    label: passenger,
    content: [term('passport-machine-readable', 1), term('payment-card', 2)],
  }),
  rule('3', {
    name: 'Accounts of people',
    label: passenger,
    content: [term('iban', 3)],
    places: ['Passenger desk', 'Claims'],
  }),
  rule('4', {
    name: 'Keys and passwords',
    label: bridge,
    content: [term('private-key', 1), term('connection-with-password', 1)],
  }),
];

/** The labels that the demo and the command start with. */
export const STARTER_LABELS: WholeLabelSet = { labels: LABELS, offers: OFFERS, automatic: AUTOMATIC };
