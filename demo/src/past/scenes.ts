import { cardNumber, type Chance, grouped, ibanNumber, passportLines } from '@lantern/testkit';
import { type DemoPerson, PARTNERS } from '../directory.js';
import type { DemoFile } from '../documents.js';
import { type DemoPastMovement, pastMovement } from './movement.js';
import { workday, workingInstant } from './rhythm.js';

/** What scenes are written with. */
export interface Stage {
  readonly random: Chance;
  readonly people: readonly DemoPerson[];
  readonly now: number;
}

const MINUTE_MS = 60_000;
const partner = (domain: string): string =>
  PARTNERS.find((known) => known.address.endsWith(`@${domain}`))?.address ?? `office@${domain}`;
const PRIVATE = 'private.mail@postbox.example';
const ISLAND = partner('islandholidays.example');
const card = (random: Chance): string => grouped(cardNumber(random));
const times = <Made>(count: number, make: (index: number) => Made): Made[] =>
  Array.from({ length: count }, (_, index) => make(index));
const of = ({ people }: Stage, department: string): readonly DemoPerson[] =>
  people.filter((person) => person.department === department);
const csv = (name: string, rows: readonly string[]): DemoFile => ({
  name,
  bytes: new TextEncoder().encode(`${rows.join('\n')}\n`),
});
const signed = (person: DemoPerson, text: string): string =>
  `Good morning,\n\n${text}\n\n${person.name}\n${person.department}, Merrow Strait Lines`;

const TALK = [
  ['Berth on Thursday', 'the night ferry moves to berth 4 on Thursday because of the dredger.'],
  ['Winter timetable', 'crossings after 22:00 are cancelled on Sundays from the first of the month.'],
  ['Ramp in Saltwick Quay', 'can we meet at ten about the ramp? I will bring the drawings.'],
  ['Delayed container', 'the container for Kelder Sound missed the tide and comes with the noon sailing.'],
  ['Uniform sizes', 'please answer with your size by Friday, the order goes out next week.'],
  ['Fuel delivery', 'the bunker barge is expected at 06:30. Gate 2 is informed.'],
  ['Coach party', 'thank you for the quick help with the stranded coach party yesterday.'],
  ['Scratched car', 'the passenger sent photographs of the scratched door. They are on the claims share.'],
  ['Crew change', 'two deckhands change ships on Monday, the cabin list is updated.'],
  ['Fog', 'fog until nine, the pilot is informed and boarding starts later.'],
] as const;
const QUESTIONS = [
  'Write a friendly note about a delayed ferry.',
  'What is the tide in Saltwick Quay tomorrow?',
  'Make this shorter: the ramp is closed on Sunday.',
  'Translate: please have your tickets ready.',
];

/** Most of what moves is nobody's concern. */
export function ordinary(stage: Stage): DemoPastMovement[] {
  const { random, people, now } = stage;
  const mails = times(11_600, () => {
    const person = random.pick(people);
    const [subject, text] = random.pick(TALK);
    const to = random.happens(0.62) ? random.pick(people).address : random.pick(PARTNERS).address;
    return pastMovement({
      at: workingInstant(random, now),
      person: person.address,
      channel: 'mail',
      to: [to],
      subject,
      text: signed(person, text),
    });
  });
  const sites = times(3_700, () =>
    pastMovement({
      at: workingInstant(random, now),
      person: random.pick(people).address,
      channel: 'browser',
      place: random.pick(['marlow', 'intranet', 'pigeonpost', 'harbour-form']),
      activity: random.pick(['type', 'paste'] as const),
      text: random.pick(QUESTIONS),
    }),
  );
  const machines = times(2_900, () =>
    pastMovement({
      at: workingInstant(random, now),
      person: random.pick(people).address,
      channel: 'endpoint',
      place: random.happens(0.7) ? 'manifest' : 'printer-office',
      activity: 'paste',
      takenFrom: random.happens(0.6) ? 'Booking system' : 'Manifest editor',
      text: `Booking ${random.whole(4000, 9000)}, ${random.whole(1, 5)} adults, cabin`,
    }),
  ).map((move) =>
    move.place === 'manifest' ? move : { ...move, activity: 'print' as const, takenFrom: 'Manifest editor' },
  );
  return [...mails, ...sites, ...machines];
}

/** The rule about the ship purchase takes the word for a still tide, which ports use every day, for the project's name. */
export function tides(stage: Stage): DemoPastMovement[] {
  const { random, now } = stage;
  const pilots = of(stage, 'Port Operations').slice(0, 9);
  const words = [
    (hour: string) => `slackwater tomorrow is at ${hour}, please have the tug ready a quarter before.`,
    (hour: string) => `we turn the barge at slackwater, ${hour}, so keep berth 2 free until then.`,
    (hour: string) => `divers can only work around slackwater. For Thursday that is ${hour}.`,
  ];
  return times(210, () => {
    const person = random.pick(pilots);
    const hour = `${String(random.whole(5, 21)).padStart(2, '0')}:${random.pick(['05', '20', '40', '55'])}`;
    return pastMovement({
      at: workingInstant(random, now),
      person: person.address,
      channel: 'mail',
      to: [partner('eddisport-authority.example')],
      subject: 'Tides',
      text: signed(person, random.pick(words)(hour)),
      outcome: 'false-positive',
    });
  });
}

/** What the rule about the ship purchase is for: its terms, on their way to somebody who may not know of them yet. */
export function purchase(stage: Stage): DemoPastMovement[] {
  const { random, now } = stage;
  const buyers = [...of(stage, 'Executive Office'), ...of(stage, 'Treasury')].slice(0, 6);
  const words = [
    'the memorandum of agreement Slackwater is ready. MV Corrigan Bay goes to the Halvard drydock in spring.',
    'for Project Slackwater we need a quotation for the hull of MV Corrigan Bay, delivery at the Halvard drydock.',
    'Project Slackwater is priced at nine million. Please keep it to yourself until the announcement.',
  ];
  return times(16, (index) =>
    pastMovement({
      at: workingInstant(random, now),
      person: random.pick(buyers).address,
      channel: 'mail',
      to: [partner(index % 2 === 0 ? 'northquay-insurance.example' : 'tidewater-shipbrokers.example')],
      subject: 'Insurance of a ship',
      text: signed(random.pick(buyers), random.pick(words)),
      outcome: index % 4 === 0 ? 'allowed' : 'harm-ignorance',
    }),
  );
}

const REASONS = [
  'The travel agency cannot open the portal and refunds these guests today',
  'The portal takes twenty rows at most, the list has more',
  'Agreed with the agency for the season',
  'The group leaves at noon and the refunds must be booked before',
];

/** Refund lists fight a policy every week: the portal that it points to does not take them. */
export function refunds(stage: Stage): DemoPastMovement[] {
  const { random, now } = stage;
  const clerks = of(stage, 'Passenger Services').slice(0, 12);
  return times(170, (index) => {
    const person = random.pick(clerks);
    const at = workingInstant(random, now);
    const many = index % 3 !== 0;
    const count = many ? random.whole(25, 38) : random.whole(5, 20);
    const rows = times(count, (row) => `MS-${40_000 + row};${card(random)};${random.whole(20, 190)}.50`);
    return pastMovement({
      at,
      person: person.address,
      channel: 'mail',
      to: [ISLAND],
      subject: 'Refunds of the week',
      text: signed(person, 'here is the list of refunds for the cancelled night crossings.'),
      files: [
        csv(`refunds-${new Date(at).toISOString().slice(0, 10)}.csv`, ['booking;card;amount', ...rows]),
      ],
      outcome: random.happens(0.75) ? 'allowed' : 'harm-ignorance',
      override: many ? { words: random.pick(REASONS), approved: random.happens(0.8) } : null,
    });
  });
}

/** One card in a mail, the same form from many desks. */
export function singleCards(stage: Stage): DemoPastMovement[] {
  const { random, people, now } = stage;
  return times(330, () => {
    const person = random.pick(people);
    return pastMovement({
      at: workingInstant(random, now),
      person: person.address,
      channel: 'mail',
      to: [random.pick([ISLAND, partner('customs-broker.example'), partner('northquay-insurance.example')])],
      subject: 'A refund that did not arrive',
      text: signed(
        person,
        `the passenger of booking MS-${random.whole(40_000, 49_999)} asks for a refund to the card ${card(random)}, expiry 11/29. Can you look into it?`,
      ),
      outcome: random.happens(0.7) ? 'harm-slip' : 'allowed',
    });
  });
}

/** Passport lines, bank accounts, assistants and sticks: what other rules are for. */
export function others(stage: Stage): DemoPastMovement[] {
  const { random, people, now } = stage;
  const anybody = () => random.pick(people).address;
  const at = () => workingInstant(random, now);
  return [
    ...times(90, () =>
      pastMovement({
        at: at(),
        person: random.pick(of(stage, 'Freight Desk')).address,
        channel: 'mail',
        to: [random.pick([ISLAND, partner('oldharbour.example')])],
        subject: `Manifest of N${random.whole(100, 999)}`,
        text: `The line of the missing passenger:\n${passportLines(random, 'Eriksson', 'Anna')}`,
        outcome: 'harm-slip',
      }),
    ),
    ...times(70, () =>
      pastMovement({
        at: at(),
        person: random.pick(of(stage, 'Treasury')).address,
        channel: 'mail',
        to: [partner('lowwater-fuels.example')],
        subject: 'Where to pay',
        text: `Our accounts for this quarter:\n${times(3, () => `IBAN ${ibanNumber(random)}`).join('\n')}`,
        outcome: 'allowed',
      }),
    ),
    ...times(95, () =>
      pastMovement({
        at: at(),
        person: anybody(),
        channel: 'browser',
        place: 'marlow',
        text: `Turn this into a letter: passenger paid with ${card(random)} and wants it back.`,
        outcome: 'harm-ignorance',
      }),
    ),
    ...times(120, () =>
      pastMovement({
        at: at(),
        person: random.pick(of(stage, 'Passenger Services')).address,
        channel: 'endpoint',
        place: random.pick(['notes', 'stick-house']),
        takenFrom: 'Booking system',
        text: `Booking ${random.whole(4000, 9000)}, paid by ${card(random)}`,
        outcome: 'allowed',
      }),
    ),
    ...times(60, () =>
      pastMovement({
        at: at(),
        person: anybody(),
        channel: 'endpoint',
        place: 'printer-quay',
        activity: 'print',
        text: `Boarding list\n${passportLines(random, 'Eriksson', 'Anna')}`,
        outcome: 'allowed',
      }),
    ),
  ];
}

/** Somebody who leaves takes the agents' accounts of the fare project along, in small pieces over several channels. */
export function leaver(stage: Stage): DemoPastMovement[] {
  const { random, now } = stage;
  const person = of(stage, 'Treasury')[4]?.address ?? '';
  const accounts = times(14, () => ibanNumber(random));
  const piece = (from: number, to: number) =>
    accounts
      .slice(from, to)
      .map((iban) => `IBAN ${iban}`)
      .join('\n');
  const fares = (part: number, from: number, to: number) =>
    `Fare project, part ${part}: fares of the agents and the accounts they pay from.\n${piece(from, to)}`;
  const steps: readonly (readonly [
    number,
    Omit<DemoPastMovement, 'at' | 'person' | 'outcome' | 'override'>,
  ])[] = [
    [
      19,
      {
        ...BLANK,
        channel: 'mail',
        activity: 'send',
        to: [PRIVATE],
        subject: 'Fares 2027, all agents',
        text: fares(1, 0, 14),
      },
    ],
    [18, { ...BLANK, channel: 'browser', place: 'pigeonpost', text: fares(1, 0, 7) }],
    [
      15,
      { ...BLANK, channel: 'mail', activity: 'send', to: [PRIVATE], subject: 'Fares', text: fares(1, 0, 5) },
    ],
    [12, { ...BLANK, channel: 'browser', place: 'pigeonpost', text: fares(2, 5, 10) }],
    [
      8,
      {
        ...BLANK,
        channel: 'mail',
        activity: 'send',
        to: [PRIVATE],
        subject: 'Recipes',
        text: fares(3, 8, 12),
      },
    ],
    [5, { ...BLANK, channel: 'browser', place: 'pigeonpost', text: fares(4, 10, 14) }],
    [
      2,
      {
        ...BLANK,
        channel: 'mail',
        activity: 'send',
        to: [PRIVATE],
        subject: 'Last recipes',
        text: fares(5, 10, 14),
      },
    ],
  ];
  const quiet = times(26, (at) =>
    pastMovement({
      at: workday(now, 1 + (at % 20), 18) + random.whole(0, 170) * MINUTE_MS,
      person,
      channel: 'endpoint',
      place: 'stick-blue',
      activity: 'copy',
      text: `Fare project, sheet ${at + 1}: classes, seasons and rebates`,
    }),
  );
  return [
    ...steps.map(([daysAgo, step]) =>
      pastMovement({
        ...step,
        at: workday(now, daysAgo, 18) + random.whole(0, 110) * MINUTE_MS,
        person,
        outcome: daysAgo > 14 ? 'harm-slip' : null,
      }),
    ),
    ...quiet,
  ];
}

const BLANK = {
  to: [],
  subject: '',
  text: '',
  files: [],
  place: '',
  activity: 'paste',
  takenFrom: '',
} as const;

/** An export that lost its filter mails the same list every few minutes for most of a day. */
export function flood(stage: Stage): DemoPastMovement[] {
  const { random, now } = stage;
  const operator = of(stage, 'Information Systems')[0]?.address ?? '';
  const rows = times(30, (row) => `MS-${50_000 + row};${card(random)};0.00`);
  const start = workday(now, 17, 7);
  return times(150, (at) =>
    pastMovement({
      at: start + at * 4 * MINUTE_MS,
      person: operator,
      channel: 'mail',
      to: [ISLAND],
      subject: 'Nightly export of open refunds',
      text: 'This mail is sent by the export of the booking system. Please do not answer.',
      files: [csv('open-refunds.csv', ['booking;card;amount', ...rows])],
      outcome: at < 40 ? 'harm-slip' : null,
    }),
  );
}
