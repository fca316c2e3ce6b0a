import {
  cardNumber,
  type Chance,
  docxFile,
  grouped,
  ibanNumber,
  passportLines,
  type Rows,
  xlsxFile,
  zipFile,
} from '@lantern/testkit';

export interface DemoFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const SURNAMES = [
  'Brandt',
  'Okoro',
  'Vikander',
  'Dunmore',
  'Ferreira',
  'Nakata',
  'Oyelaran',
  'Petrov',
  'Salazar',
  'Whitlock',
  'Zielinski',
  'Abbas',
];
const GIVEN = [
  'Anna',
  'Lars',
  'Sofia',
  'Peter',
  'Maria',
  'Kenji',
  'Ruth',
  'Ivan',
  'Elena',
  'Grace',
  'Tomasz',
  'Leila',
];

const booking = (random: Chance): string => `MS-${random.whole(40000, 49999)}`;
const amount = (random: Chance): string => `${random.whole(12, 260)}.${random.pick(['00', '50', '40'])}`;
const initialled = (random: Chance): string =>
  `${random.pick('ABDEFGHJKLMPRST'.split(''))}. ${random.pick(SURNAMES)}`;

/** Rows of a refund list with so many cards. */
export function refundRows(random: Chance, cards: number): Rows {
  const rows = Array.from({ length: cards }, () => [
    booking(random),
    initialled(random),
    grouped(cardNumber(random)),
    amount(random),
  ]);
  return [['Booking', 'Passenger', 'Card number', 'Refund'], ...rows];
}

/** A refund list as a sheet, a document or separated text. */
export async function refundList(random: Chance, cards: number, week: number): Promise<DemoFile> {
  const rows = refundRows(random, cards);
  const kind = random.pick(['xlsx', 'xlsx', 'csv', 'docx']);
  const name = `refunds-week-${week}.${kind}`;
  if (kind === 'xlsx') return { name, bytes: await xlsxFile('Refunds', rows) };
  if (kind === 'docx')
    return { name, bytes: await docxFile({ paragraphs: [`Refunds of week ${week}`], table: rows }) };
  return { name, bytes: Buffer.from(rows.map((row) => row.join(';')).join('\r\n')) };
}

/** Account numbers of suppliers to be paid. */
export async function paymentRun(random: Chance, accounts: number): Promise<DemoFile> {
  const rows = Array.from({ length: accounts }, () => [
    `${random.pick(SURNAMES)} Chandlery`,
    ibanNumber(random),
    amount(random),
  ]);
  return {
    name: `payment-run-${random.whole(100, 999)}.xlsx`,
    bytes: await xlsxFile('Payments', [['Supplier', 'IBAN', 'Amount'], ...rows]),
  };
}

/** A passenger manifest with the machine-readable lines of each passport. */
export async function manifest(random: Chance, passengers: number, crossing: string): Promise<DemoFile> {
  const lines = Array.from({ length: passengers }, () =>
    passportLines(random, random.pick(SURNAMES), random.pick(GIVEN)),
  );
  return {
    name: `manifest-${crossing}.docx`,
    bytes: await docxFile({
      paragraphs: [`Passenger manifest, crossing ${crossing}`, ...lines.flatMap((pair) => pair.split('\n'))],
      header: 'Merrow Strait Lines',
    }),
  };
}

/** Notes about the ship purchase. */
export async function purchaseNotes(): Promise<DemoFile> {
  return {
    name: 'inspection-notes.docx',
    bytes: await docxFile({
      paragraphs: [
        'Inspection of the MV Corrigan Bay at the Halvard drydock.',
        'Project Slackwater: hull and engines as described, stern ramp needs work. The price in the memorandum of agreement stands.',
      ],
    }),
  };
}

/** An archive that only opens with a password. */
export function lockedArchive(random: Chance): DemoFile {
  return {
    name: `survey-photos-${random.whole(1, 60)}.zip`,
    bytes: zipFile({ 'photos.txt': Buffer.from(`set ${random.whole(1, 999)}`) }, { encrypted: true }),
  };
}

/** Tracking numbers of parcels, as long as card numbers; some satisfy the same check. */
export function trackingList(random: Chance): DemoFile {
  const rows = Array.from(
    { length: 12 },
    () =>
      `${booking(random)};${random.whole(4, 5)}${Array.from({ length: 15 }, () => random.whole(0, 9)).join('')};${amount(random)}`,
  );
  return { name: 'parcels.csv', bytes: Buffer.from(['Order;Tracking number;Weight', ...rows].join('\r\n')) };
}
