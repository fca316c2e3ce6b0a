/** What the ledger of the stand-in holds: made up, the same at every start, and large enough to be worth guarding. */

/** Kinds of record. */
export const LEDGER_OBJECTS = ['customers', 'bookings', 'claims', 'freight'] as const;
export type LedgerObject = (typeof LEDGER_OBJECTS)[number];

export interface LedgerTable {
  readonly fields: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** A list that can be exported. */
export interface LedgerReport {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly objects: readonly LedgerObject[];
  readonly fields: readonly string[];
  /** What a dashboard adds up: it is made of records, and shows none of them. Left out for a list of records. */
  readonly sums?: { readonly by: string; readonly amount: string };
}

const CUSTOMERS = 4_000;
const BOOKINGS = 40_000;
const CLAIMS = 600;
const FREIGHT = 2_400;

const FIRST = [
  'Ada',
  'Bram',
  'Clio',
  'Dagny',
  'Emil',
  'Frida',
  'Gwen',
  'Henk',
  'Ilse',
  'Jonas',
  'Kaia',
  'Lars',
];
const MORE = ['Mira', 'Nils', 'Oda', 'Piet', 'Runa', 'Sven', 'Tove', 'Ulf', 'Vera', 'Wim', 'Ylva', 'Zeno'];
const LAST = [
  'Aldermere',
  'Brackwater',
  'Coldharbour',
  'Dunmouth',
  'Eastquay',
  'Fenwater',
  'Gullhaven',
  'Holmside',
];
const ENDS = ['', 'son', 'ling', 'by', 'feld', 'wick', 'ton', 'dal', 'rud', 'vik', 'mark', 'stad'];
const COUNTRIES = ['NO', 'DE', 'DK', 'NL', 'SE', 'GB', 'FR', 'ES'];
const SHIPS = ['Merrow Queen', 'Strait Lark', 'Grey Selkie', 'Tern of Eddis'];
const ROUTES = [
  'Eddisport to Calder Bay',
  'Calder Bay to Norholm',
  'Norholm to Eddisport',
  'Eddisport to Skerrin',
];
const CABINS = ['seat', 'inside cabin', 'outside cabin', 'suite'];
const GOODS = ['timber', 'machine parts', 'fresh fish', 'paper', 'vehicles', 'malt'];
const HARM = ['lost luggage', 'late sailing', 'damaged vehicle', 'injury on board'];

/** One of `from`, told by a number. */
const pick = <Item>(from: readonly Item[], at: number): Item => from[at % from.length] as Item;

/** The last digit of a number that cards check (Luhn; ISO/IEC 7812-1, annex B). */
function luhnDigit(digits: string): string {
  let sum = 0;
  for (let at = digits.length - 1, double = true; at >= 0; at -= 1, double = !double) {
    const value = Number(digits[at]) * (double ? 2 : 1);
    sum += value > 9 ? value - 9 : value;
  }
  return String((10 - (sum % 10)) % 10);
}

/** A card number of nobody, of the range that test cards are of. */
function cardOf(at: number): string {
  const digits = `411111${String(100_000_000 + ((at * 7_919) % 899_999_999))}`;
  const card = digits + luhnDigit(digits);
  return card.replace(/(\d{4})(?=\d)/g, '$1 ');
}

const day = (at: number, from: string): string =>
  new Date(Date.parse(from) + at * 86_400_000).toISOString().slice(0, 10);

const nameOf = (at: number): string =>
  `${pick([...FIRST, ...MORE], at)} ${pick(LAST, Math.floor(at / 24))}${pick(ENDS, Math.floor(at / 192))}`;

function customers(): LedgerTable {
  const fields = ['Customer number', 'Name', 'Country', 'Mail', 'Telephone', 'Date of birth', 'Payment card'];
  const rows = Array.from({ length: CUSTOMERS }, (_unused, at) => {
    const name = nameOf(at);
    return [
      `C-${10_000 + at}`,
      name,
      pick(COUNTRIES, at * 3),
      `${name.toLowerCase().replaceAll(' ', '.')}.${at}@post.example`,
      `+47 2${String(1_000_000 + ((at * 631) % 8_999_999))}`,
      day((at * 37) % 18_000, '1950-01-01'),
      cardOf(at),
    ];
  });
  return { fields, rows };
}

function bookings(): LedgerTable {
  const fields = [
    'Booking',
    'Customer number',
    'Lead passenger',
    'Ship',
    'Route',
    'Sails',
    'Cabin',
    'Price',
    'Paid by card',
  ];
  const rows = Array.from({ length: BOOKINGS }, (_unused, at) => [
    `B-${400_000 + at}`,
    `C-${10_000 + (at % CUSTOMERS)}`,
    nameOf(at % CUSTOMERS),
    pick(SHIPS, at),
    pick(ROUTES, at * 3),
    day(at % 180, '2026-06-01'),
    pick(CABINS, at * 7),
    `${(40 + ((at * 13) % 400)).toFixed(2)} EUR`,
    cardOf(at % CUSTOMERS),
  ]);
  return { fields, rows };
}

function claims(): LedgerTable {
  const fields = ['Claim', 'Customer number', 'Name', 'About', 'Amount', 'State'];
  const rows = Array.from({ length: CLAIMS }, (_unused, at) => [
    `K-${7_000 + at}`,
    `C-${10_000 + ((at * 17) % CUSTOMERS)}`,
    nameOf((at * 17) % CUSTOMERS),
    pick(HARM, at),
    `${(20 + ((at * 29) % 900)).toFixed(2)} EUR`,
    pick(['open', 'open', 'paid', 'refused'], at),
  ]);
  return { fields, rows };
}

function freight(): LedgerTable {
  const fields = ['Consignment', 'Goods', 'Tonnes', 'Ship', 'Route', 'Sails'];
  const rows = Array.from({ length: FREIGHT }, (_unused, at) => [
    `F-${20_000 + at}`,
    pick(GOODS, at),
    String(1 + ((at * 11) % 60)),
    pick(SHIPS, at * 3),
    pick(ROUTES, at),
    day(at % 90, '2026-09-01'),
  ]);
  return { fields, rows };
}

const MAKERS: Readonly<Record<LedgerObject, () => LedgerTable>> = { customers, bookings, claims, freight };
const made = new Map<LedgerObject, LedgerTable>();

/** All records of a kind. */
export function tableOf(object: LedgerObject): LedgerTable {
  const known = made.get(object);
  if (known) return known;
  const table = MAKERS[object]();
  made.set(object, table);
  return table;
}

export const LEDGER_REPORTS: readonly LedgerReport[] = [
  {
    id: 'season',
    name: 'Bookings of the season',
    about: 'Every booking with its lead passenger and how it was paid.',
    objects: ['bookings', 'customers'],
    fields: tableOf('bookings').fields,
  },
  {
    id: 'customers',
    name: 'Customers',
    about: 'Everybody who ever booked, with how to reach them.',
    objects: ['customers'],
    fields: tableOf('customers').fields,
  },
  {
    id: 'claims',
    name: 'Claims',
    about: 'What passengers ask for, and where it stands.',
    objects: ['claims', 'customers'],
    fields: tableOf('claims').fields,
  },
  {
    id: 'freight',
    name: 'Freight by route',
    about: 'Goods and tonnes of each sailing. Nothing of any person.',
    objects: ['freight'],
    fields: tableOf('freight').fields,
  },
  {
    id: 'income-by-route',
    name: 'Income by route',
    about: 'Bookings of the season and what they come to, for each route.',
    objects: ['bookings'],
    ...{ fields: ['Route', 'Records', 'Price'], sums: { by: 'Route', amount: 'Price' } },
  },
  {
    id: 'claims-by-cause',
    name: 'Claims by cause',
    about: 'What passengers ask for, and what it comes to.',
    objects: ['claims'],
    ...{ fields: ['About', 'Records', 'Amount'], sums: { by: 'About', amount: 'Amount' } },
  },
];

/** Other applications that can be connected, with what each asks to do. */
export const CONNECTABLE = [
  {
    id: 'tide-times',
    name: 'Tide times',
    host: 'api.tides.example',
    rights: ['read sailings'],
    takes: 'freight',
  },
  {
    id: 'seat-count',
    name: 'Seat counter',
    host: 'counter.seats.example',
    rights: ['read bookings', 'count passengers'],
    takes: 'bookings',
  },
  {
    id: 'growth-robot',
    name: 'Growth robot',
    host: 'in.growth-robot.example',
    rights: ['read all customers', 'export bookings', 'offline access'],
    takes: 'customers',
  },
] as const;

/** What a report lists, or what a dashboard adds up. */
export function reportTable({ objects, sums, fields }: LedgerReport): LedgerTable {
  const table = tableOf(objects[0] ?? 'customers');
  if (!sums) return table;
  const [by, amount] = [table.fields.indexOf(sums.by), table.fields.indexOf(sums.amount)];
  const found = new Map<string, { count: number; sum: number }>();
  for (const row of table.rows) {
    const name = row[by] ?? '';
    const known = found.get(name) ?? { count: 0, sum: 0 };
    found.set(name, { count: known.count + 1, sum: known.sum + Number.parseFloat(row[amount] ?? '0') });
  }
  const rows = [...found].map(([name, { count, sum }]) => [name, String(count), `${sum.toFixed(2)} EUR`]);
  return { fields, rows };
}
