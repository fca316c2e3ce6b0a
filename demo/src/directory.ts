import { chance } from '@lantern/testkit';

export interface DemoPerson {
  readonly name: string;
  readonly address: string;
  readonly department: string;
  readonly port: string;
  readonly title: string;
  readonly groups: readonly string[];
  readonly language: string;
  /** Address of whoever leads the department; null for the one who leads all. */
  readonly manager: string | null;
}

export interface DemoPartner {
  readonly name: string;
  readonly address: string;
  readonly organisation: string;
  readonly country: string;
}

export const ORGANISATION = { name: 'Merrow Strait Lines', domains: ['merrowstrait.example'] };
const DOMAIN = 'merrowstrait.example';

const PORTS = ['Merrowhaven', 'Saltwick Quay', 'Northquay', 'Eddisport', 'Kelder Sound', 'Torrin Point'];

/** Departments with their usual titles and how many people they hold. */
const DEPARTMENTS: readonly (readonly [string, readonly string[], number])[] = [
  ['Passenger Services', ['Booking clerk', 'Refunds clerk', 'Duty supervisor'], 28],
  ['Freight Desk', ['Freight clerk', 'Manifest editor', 'Customs liaison'], 22],
  ['Port Operations', ['Berth planner', 'Gate officer', 'Port security officer'], 20],
  ['Crewing', ['Crewing officer', 'Medical records clerk'], 12],
  ['Fleet', ['Superintendent', 'Fuel buyer', 'Technical clerk'], 12],
  ['Treasury', ['Accounts clerk', 'Payments officer'], 9],
  ['Information Systems', ['System administrator', 'Support analyst', 'Web developer'], 8],
  ['Legal and Claims', ['Claims handler', 'Counsel'], 5],
  ['Executive Office', ['Director', 'Assistant'], 4],
];

const FIRST = [
  'Ada',
  'Bram',
  'Cilla',
  'Davor',
  'Elin',
  'Femke',
  'Goran',
  'Hedda',
  'Ivo',
  'Jorun',
  'Kasper',
  'Lotte',
  'Marek',
  'Nadia',
  'Oskar',
  'Petra',
  'Quinn',
  'Rasmus',
  'Signe',
  'Teun',
  'Ulla',
  'Viktor',
  'Wilma',
  'Yannis',
  'Zora',
  'Anouk',
  'Birger',
  'Corin',
];
const LAST = [
  'Aldersey',
  'Brackwell',
  'Corrigan',
  'Dunmore',
  'Eastlake',
  'Farrow',
  'Grimsdal',
  'Hallam',
  'Ingram',
  'Jessop',
  'Kestrel',
  'Lorne',
  'Merrick',
  'Norbury',
  'Oakes',
  'Penhale',
  'Quayle',
  'Rushworth',
  'Sandell',
  'Thorne',
  'Umber',
  'Vance',
  'Wickham',
  'Yarrow',
];

/** People whose names the scenario's stories use. */
const NAMED: readonly (readonly [string, string, string, string])[] = [
  ['Orla Fenwick', 'Passenger Services', 'Merrowhaven', 'Refunds clerk'],
  ['Bea Lindqvist', 'Passenger Services', 'Merrowhaven', 'Duty supervisor'],
  ['Tomas Reave', 'Fleet', 'Saltwick Quay', 'Superintendent'],
  ['Mina Carrow', 'Crewing', 'Northquay', 'Medical records clerk'],
  ['Per Halloran', 'Port Operations', 'Eddisport', 'Port security officer'],
  ['Jun Abara', 'Freight Desk', 'Kelder Sound', 'Manifest editor'],
];

const groupsOf = (department: string, title: string): string[] =>
  /officer|supervisor|director|superintendent/i.test(title) ? [department, 'Leads'] : [department];

function addressOf(name: string): string {
  return `${name.toLowerCase().replace(/[^a-z]+/g, '.')}@${DOMAIN}`;
}

/** 126 people in nine departments and six ports, the same every time. */
export function directory(): DemoPerson[] {
  const people = withoutManagers();
  return people.map((person) => ({ ...person, manager: managerOf(person, people) }));
}

/** The first of each department leads it; the first of the executive office leads all of them. */
function managerOf(person: Unmanaged, people: readonly Unmanaged[]): string | null {
  const first = (department: string) => people.find((one) => one.department === department)?.address ?? null;
  const own = first(person.department);
  if (own !== person.address) return own;
  const head = first('Executive Office');
  return head === person.address ? null : head;
}

type Unmanaged = Omit<DemoPerson, 'manager'>;

function withoutManagers(): Unmanaged[] {
  const random = chance(4600);
  const people = NAMED.map(([name, department, port, title]): Unmanaged => ({
    name,
    address: addressOf(name),
    department,
    port,
    title,
    groups: groupsOf(department, title),
    language: 'en',
  }));
  const taken = new Set(people.map((person) => person.name));
  for (const [department, titles, size] of DEPARTMENTS) {
    for (let index = 0; index < size; index += 1) {
      let name = `${random.pick(FIRST)} ${random.pick(LAST)}`;
      while (taken.has(name)) name = `${random.pick(FIRST)} ${random.pick(LAST)}`;
      taken.add(name);
      const title = random.pick(titles);
      const port = random.pick(PORTS);
      people.push({
        name,
        address: addressOf(name),
        department,
        port,
        title,
        groups: groupsOf(department, title),
        language: port === 'Eddisport' ? 'de' : 'en',
      });
    }
  }
  return people;
}

export const PARTNERS: readonly DemoPartner[] = [
  {
    name: 'Agency desk',
    address: 'desk@islandholidays.example',
    organisation: 'Island Holidays',
    country: 'NO',
  },
  {
    name: 'Group bookings',
    address: 'groups@islandholidays.example',
    organisation: 'Island Holidays',
    country: 'NO',
  },
  {
    name: 'Declarations',
    address: 'declarations@customs-broker.example',
    organisation: 'Strait Customs Brokers',
    country: 'DE',
  },
  {
    name: 'Purser',
    address: 'purser@oldharbour.example',
    organisation: 'Old Harbour Ferries',
    country: 'DK',
  },
  {
    name: 'Settlements',
    address: 'settlements@cardprocessor.example',
    organisation: 'Harbour Card Processing',
    country: 'NL',
  },
  {
    name: 'Sale and purchase',
    address: 'sales@tidewater-shipbrokers.example',
    organisation: 'Tidewater Shipbrokers',
    country: 'GB',
  },
  {
    name: 'Claims intake',
    address: 'intake@northquay-insurance.example',
    organisation: 'Northquay Mutual',
    country: 'DK',
  },
  {
    name: 'Harbour office',
    address: 'office@eddisport-authority.example',
    organisation: 'Eddisport Harbour Authority',
    country: 'DE',
  },
  {
    name: 'Bunker desk',
    address: 'bunkers@lowwater-fuels.example',
    organisation: 'Lowwater Fuels',
    country: 'NL',
  },
  {
    name: 'Ship store',
    address: 'orders@quaysidestores.example',
    organisation: 'Quayside Stores',
    country: 'SE',
  },
  {
    name: 'A private mailbox',
    address: 'private.mail@postbox.example',
    organisation: 'a public mail provider',
    country: 'IE',
  },
];

/** Accounts of the workbench in the demo. The password is printed at the start: this is a demo. */
export const DEMO_PASSWORD = 'lantern-demo';
/** Roles of the organisation's own, each with limits. */
export const DEMO_ROLES = [
  {
    id: '3b1d6a52-0000-4000-8000-00000000e001',
    name: 'Team lead',
    description: 'reads the incidents of their team and decides its override requests',
    permissions: ['incidents.read', 'overrides.decide', 'policies.read', 'people.read'],
    limits: { departments: [], policies: [], channels: [], severities: [], ownTeam: true },
  },
  {
    id: '3b1d6a52-0000-4000-8000-00000000e002',
    name: 'Analyst of Passenger Services',
    description: 'decides incidents of one department',
    permissions: [
      ...['incidents.read', 'incidents.decide', 'incidents.respond'],
      ...['patterns.read', 'policies.read', 'labels.read', 'people.read', 'lantern.use'],
    ],
    limits: {
      departments: ['Passenger Services'],
      ...{ policies: [], channels: [], severities: [], ownTeam: false },
    },
  },
] as const;

export const DEMO_ACCOUNTS = [
  {
    name: 'Ines Sorrel',
    email: 'ines.sorrel@merrowstrait.example',
    may: 'every role: a small team',
    roles: ['second-line', 'policy-author', 'approver', 'business', 'administrator'],
    seesSilent: true,
  },
  {
    name: 'Tobias Lund',
    email: 'tobias.lund@merrowstrait.example',
    may: 'every role: a small team',
    roles: ['second-line', 'policy-author', 'approver', 'business', 'administrator'],
    seesSilent: true,
  },
  {
    name: 'Nell Harrow',
    email: 'nell.harrow@merrowstrait.example',
    may: 'first-line analyst',
    roles: ['first-line'],
    seesSilent: false,
  },
  {
    name: 'Milo Brandt',
    email: 'milo.brandt@merrowstrait.example',
    may: 'approver: publishes, decides override requests',
    roles: ['approver'],
    seesSilent: false,
  },
  {
    name: 'Sana Okoro',
    email: 'sana.okoro@merrowstrait.example',
    may: 'administrator: accounts, agents, audit trail',
    roles: ['administrator'],
    seesSilent: false,
  },
  {
    name: 'Hedda Quayle',
    email: 'hedda.quayle@merrowstrait.example',
    may: 'business: reads and signs off labels',
    roles: ['business'],
    seesSilent: false,
  },
  {
    name: 'Ruth Amberley',
    email: 'ruth.amberley@merrowstrait.example',
    may: 'auditor, reads only',
    roles: ['auditor'],
    seesSilent: false,
  },
  {
    name: 'Corin Farrow',
    email: 'corin.farrow@merrowstrait.example',
    may: 'team lead: incidents and requests of their team',
    roles: ['3b1d6a52-0000-4000-8000-00000000e001'],
    seesSilent: false,
  },
  {
    name: 'Edda Marsh',
    email: 'edda.marsh@merrowstrait.example',
    may: 'analyst of Passenger Services, and nothing else',
    roles: ['3b1d6a52-0000-4000-8000-00000000e002'],
    seesSilent: false,
  },
] as const;

/** A machine of the ferry line. */
export interface DemoMachine {
  readonly name: string;
  readonly state: 'looked-after' | 'strange';
  readonly groups: readonly string[];
  readonly owner: string;
  readonly serial: string;
  readonly addresses: readonly string[];
}

/** One machine for each person, named after office and number; crews of the fleet bring their own. */
export function machines(people: readonly DemoPerson[]): DemoMachine[] {
  return people.map(({ address, department, port }, index) => {
    const own = department === 'Fleet' && index % 3 === 0;
    const office = port.split(' ')[0]?.toUpperCase() ?? 'DESK';
    return {
      name: `${own ? 'OWN' : office}-${String(index + 1).padStart(3, '0')}`,
      state: own ? 'strange' : 'looked-after',
      groups: own ? ['Brought from home'] : [`Desks in ${port}`],
      owner: address,
      serial: own ? '' : `MS26-${String(1_000 + index)}`,
      // Each office has a network of its own.
      addresses: own
        ? []
        : [`10.${20 + (office.length % 9)}.${Math.floor(index / 200)}.${(index % 200) + 10}`],
    };
  });
}
