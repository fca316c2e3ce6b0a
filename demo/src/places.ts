import { cardNumber, type Chance, chance, grouped, ibanNumber, passportLines } from '@lantern/testkit';
import { quickFile, type QuickKind } from './quick-files.js';

/** A place of the ferry line and what lies in it. */
export interface DemoPlace {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly folder: string;
  readonly owner: string;
  readonly sharedOutside: readonly string[];
}
export interface DemoPlaceFile {
  readonly place: string;
  readonly path: string;
  readonly bytes: Uint8Array;
  /** Name of a label that somebody set by hand long ago. */
  readonly label?: string;
}

const placeId = (last: string): string => `6d1f0c20-77aa-4e31-8c5d-0000000000${last}`;
const place = (
  last: string,
  name: string,
  rest: Omit<DemoPlace, 'id' | 'name' | 'folder' | 'sharedOutside'> & { sharedOutside?: readonly string[] },
): DemoPlace => ({
  id: placeId(last),
  name,
  folder: name.toLowerCase().replace(/[^a-z]+/g, '-'),
  sharedOutside: [],
  ...rest,
});

export const PLACES: readonly DemoPlace[] = [
  place('01', 'Passenger desk', {
    about: 'Bookings, refunds and complaints, by year.',
    owner: 'bea.lindqvist@merrowstrait.example',
  }),
  place('02', 'Manifests', {
    about: 'Who travelled on which crossing.',
    owner: 'jun.abara@merrowstrait.example',
    sharedOutside: ['desk@customs-broker.example'],
  }),
  place('03', 'Claims', { about: 'Letters and settlements.', owner: 'bea.lindqvist@merrowstrait.example' }),
  place('04', 'Crewing', {
    about: 'Rosters, contracts and certificates.',
    owner: 'mina.carrow@merrowstrait.example',
  }),
  place('05', 'Port security', {
    about: 'Plans, patrols and access.',
    owner: 'per.halloran@merrowstrait.example',
  }),
  place('06', 'Fleet', { about: 'Engines, fuel, dry dock.', owner: 'tomas.reave@merrowstrait.example' }),
  place('07', 'Timetables', {
    about: 'Published and draft timetables and fares.',
    owner: 'orla.fenwick@merrowstrait.example',
    sharedOutside: ['groups@islandholidays.example'],
  }),
  place('08', 'New arrivals', {
    about: 'Set up last week; nothing in it yet.',
    owner: 'orla.fenwick@merrowstrait.example',
  }),
];

const SURNAMES = [
  'Brandt',
  'Okoro',
  'Vikander',
  'Dunmore',
  'Ferreira',
  'Nakata',
  'Petrov',
  'Salazar',
  'Whitlock',
  'Zielinski',
];
const GIVEN = ['Anna', 'Lars', 'Sofia', 'Peter', 'Maria', 'Kenji', 'Ruth', 'Ivan', 'Elena', 'Grace'];
const PORTS = ['Merrowhaven', 'Saltwick Quay', 'Northquay', 'Eddisport', 'Kelder Sound', 'Torrin Point'];
const TOPICS = [
  'the winter roster',
  'the new gangway',
  'cleaning of the car deck',
  'the queue at the gate',
  'a lost suitcase',
  'the café on deck five',
  'seat numbers',
  'the lifeboat drill',
];

const sentence = (random: Chance): string =>
  random.pick([
    `We spoke about ${random.pick(TOPICS)} at ${random.pick(PORTS)} and agreed to look at it again in week ${random.whole(1, 52)}.`,
    `${random.pick(GIVEN)} will write to the office in ${random.pick(PORTS)} about ${random.pick(TOPICS)}.`,
    `The crossing from ${random.pick(PORTS)} left ${random.whole(2, 40)} minutes late because of wind.`,
    `Order ${random.whole(10_000, 99_999)} for ${random.pick(TOPICS)} came to ${random.whole(40, 900)}.50 and was paid.`,
  ]);
const prose = (random: Chance, lines: number): string[] =>
  Array.from({ length: lines }, () => sentence(random));

const cards = (random: Chance, count: number): string[] => [
  'Booking\tPassenger\tCard number\tRefund',
  ...Array.from(
    { length: count },
    () =>
      `MS-${random.whole(40_000, 49_999)}\t${random.pick(SURNAMES)}\t${grouped(cardNumber(random))}\t${random.whole(12, 260)}.00`,
  ),
];
const accounts = (random: Chance, count: number): string[] => [
  'Claimant\tIBAN\tAmount',
  ...Array.from(
    { length: count },
    () => `${random.pick(SURNAMES)}\t${ibanNumber(random)}\t${random.whole(50, 2_000)}.00`,
  ),
];
const passengers = (random: Chance, count: number): string[] =>
  Array.from({ length: count }, () =>
    passportLines(random, random.pick(SURNAMES), random.pick(GIVEN)),
  ).flatMap((pair) => pair.split('\n'));
const secrets = (random: Chance): string[] => [
  'Access to the gate server',
  `postgres://gate:${Array.from({ length: 12 }, () => random.pick([...'abcdefghkmnpqrstuvwxyz23456789'])).join('')}@198.51.100.${random.whole(2, 250)}/gates`,
];

/** What a place mostly holds, and how often a file of it holds something. */
interface Recipe {
  readonly files: number;
  readonly stems: readonly string[];
  readonly kinds: readonly QuickKind[];
  readonly share: number;
  readonly sensitive: (random: Chance) => string[];
  readonly handLabel: string;
}
const TEXTS: readonly QuickKind[] = ['docx', 'docx', 'odt', 'pdf', 'txt', 'html', 'eml'];
const SHEETS: readonly QuickKind[] = ['xlsx', 'xlsx', 'csv', 'docx', 'pdf'];

const RECIPES: Readonly<Record<string, Recipe>> = {
  'Passenger desk': {
    files: 620,
    stems: ['refunds', 'complaint', 'note', 'booking-list'],
    kinds: SHEETS,
    share: 0.35,
    sensitive: (random) => cards(random, random.whole(1, 12)),
    handLabel: 'Passenger care',
  },
  Manifests: {
    files: 420,
    stems: ['manifest', 'crossing', 'remarks'],
    kinds: ['docx', 'pdf', 'txt', 'odt'],
    share: 0.6,
    sensitive: (random) => ['Passenger manifest', ...passengers(random, random.whole(2, 9))],
    handLabel: 'Ship’s company',
  },
  Claims: {
    files: 360,
    stems: ['settlement', 'letter', 'assessment'],
    kinds: SHEETS,
    share: 0.3,
    sensitive: (random) => accounts(random, random.whole(1, 7)),
    handLabel: 'Bridge only',
  },
  Crewing: {
    files: 380,
    stems: ['roster', 'contract', 'certificate', 'minutes'],
    kinds: TEXTS,
    share: 0.1,
    sensitive: (random) => ['Crew passports', ...passengers(random, random.whole(1, 4))],
    handLabel: 'Sick bay',
  },
  'Port security': {
    files: 260,
    stems: ['patrol', 'gate-plan', 'access', 'drill'],
    kinds: [...TEXTS, 'pptx'],
    share: 0.15,
    sensitive: secrets,
    handLabel: 'Bridge only',
  },
  Fleet: {
    files: 340,
    stems: ['engine-log', 'fuel', 'dry-dock', 'survey'],
    kinds: [...TEXTS, 'pptx', 'xlsx'],
    share: 0.06,
    sensitive: (random) => [
      'Project Slackwater',
      'The MV Corrigan Bay at the Halvard drydock.',
      sentence(random),
    ],
    handLabel: 'Ship’s company',
  },
  Timetables: {
    files: 240,
    stems: ['timetable', 'fares', 'press'],
    kinds: [...TEXTS, 'pptx'],
    share: 0.02,
    sensitive: (random) => cards(random, 3),
    handLabel: 'Open water',
  },
  'New arrivals': { files: 0, stems: [], kinds: [], share: 0, sensitive: () => [], handLabel: '' },
};

/** Every file of every place, the same every time. */
export async function* placeFiles(): AsyncGenerator<DemoPlaceFile> {
  const random = chance(505);
  for (const { name } of PLACES) {
    const recipe = RECIPES[name];
    for (let index = 0; recipe && index < recipe.files; index += 1) {
      const kind = random.pick(recipe.kinds);
      const holds = random.happens(recipe.share);
      const body = prose(random, random.whole(3, 14));
      const lines = [
        `${random.pick(recipe.stems)} ${index + 1}`,
        ...body,
        ...(holds ? recipe.sensitive(random) : []),
        ...prose(random, 2),
      ];
      const path = `${random.whole(2023, 2026)}/${random.pick(PORTS).toLowerCase().replace(/ /g, '-')}/${(lines[0] ?? '').replace(' ', '-')}.${kind}`;
      const labelled = random.happens(0.06);
      const bytes = await quickFile(kind, lines);
      // A few files of every real place are broken.
      const broken = random.happens(0.008);
      yield {
        place: name,
        path,
        bytes: broken ? bytes.slice(0, bytes.length / 2) : bytes,
        ...(labelled && !broken ? { label: recipe.handLabel } : {}),
      };
    }
  }
}
