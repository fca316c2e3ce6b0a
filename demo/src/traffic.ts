import { cardNumber, chance, type Chance, grouped, ibanNumber } from '@lantern/testkit';
import { type DemoPerson, directory, PARTNERS } from './directory.js';
import {
  type DemoFile,
  lockedArchive,
  manifest,
  paymentRun,
  purchaseNotes,
  refundList,
  trackingList,
} from './documents.js';

/** A mail of the demo's past. `hoursAgo` counts back from the moment the demo is loaded. */
export interface DemoMail {
  readonly from: DemoPerson;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly DemoFile[];
  readonly hoursAgo: number;
}

interface Scene {
  readonly random: Chance;
  readonly people: readonly DemoPerson[];
  readonly from: DemoPerson;
  readonly week: number;
}

interface Written {
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files?: readonly DemoFile[];
}

const partner = (domain: string): string =>
  PARTNERS.find((known) => known.address.endsWith(`@${domain}`))?.address ?? `office@${domain}`;
const anyPartner = (random: Chance): string => random.pick(PARTNERS).address;
const colleague = (scene: Scene): string => scene.random.pick(scene.people).address;
const signed = (scene: Scene, text: string): string =>
  `Good morning,\n\n${text}\n\n${scene.from.name}\n${scene.from.department}, Merrow Strait Lines`;

const ORDINARY = [
  [
    'Berth on Thursday',
    'the night ferry moves to berth 4 on Thursday because of the dredger. Please tell the linesmen.',
  ],
  [
    'Timetable for the winter',
    'attached to the intranet you find the winter timetable. Crossings after 22:00 are cancelled on Sundays.',
  ],
  [
    'Meeting about the ramp',
    'can we meet at ten about the ramp in Saltwick Quay? I will bring the drawings.',
  ],
  [
    'Delayed container',
    'the container for Kelder Sound missed the tide and comes tomorrow with the noon sailing.',
  ],
  ['Uniform sizes', 'please answer with your size by Friday, the order goes out next week.'],
  ['Fuel delivery', 'the bunker barge is expected at 06:30. Gate 2 is informed.'],
  ['Thank you', 'thank you for the quick help with the stranded coach party yesterday.'],
  [
    'Claim for a scratched car',
    'the passenger sent photographs of the scratched door. I put them on the claims share.',
  ],
] as const;

/** What people write, with how often they do. Ordinary mail is most of it. */
const KINDS: readonly (readonly [number, (scene: Scene) => Promise<Written> | Written])[] = [
  [340, (scene) => ordinary(scene, colleague(scene))],
  [200, (scene) => ordinary(scene, anyPartner(scene.random))],
  [
    46,
    (scene) =>
      refunds(scene, partner('islandholidays.example'), scene.random.pick([1, 2, 3, 4, 6, 9, 14, 24])),
  ],
  [
    22,
    (scene) =>
      refunds(
        scene,
        scene.random.pick([partner('islandholidays.example'), 'private.mail@postbox.example']),
        scene.random.whole(25, 40),
      ),
  ],
  [30, (scene) => refunds(scene, colleague(scene), scene.random.whole(2, 30))],
  [16, (scene) => refunds(scene, partner('cardprocessor.example'), scene.random.whole(10, 40))],
  [34, cardInText],
  [28, (scene) => payments(scene, anyPartner(scene.random), scene.random.whole(3, 9))],
  [14, (scene) => payments(scene, colleague(scene), scene.random.whole(3, 9))],
  [26, (scene) => passengers(scene, partner('islandholidays.example'))],
  [22, (scene) => passengers(scene, partner('customs-broker.example'))],
  [12, shipPurchase],
  [24, locked],
  [26, parcels],
  [10, ibanInText],
];

function ordinary(scene: Scene, to: string): Written {
  const [subject, text] = scene.random.pick(ORDINARY);
  return { to: [to], subject, body: signed(scene, text) };
}

async function refunds(scene: Scene, to: string, cards: number): Promise<Written> {
  const file = await refundList(scene.random, cards, scene.week);
  const text =
    "here is the list of refunds for last week's cancelled night crossings. Please confirm by noon so that we can close the week.";
  return {
    to: scene.random.happens(0.3) ? [to, colleague(scene)] : [to],
    subject: `Refunds, week ${scene.week}`,
    body: signed(scene, text),
    files: [file],
  };
}

function cardInText(scene: Scene): Written {
  const text = `the passenger of booking MS-${scene.random.whole(40000, 49999)} asks for a refund to the card ${grouped(cardNumber(scene.random))}, expiry 11/29. Can you look into it?`;
  return {
    to: [anyPartner(scene.random)],
    subject: 'A refund that did not arrive',
    body: signed(scene, text),
  };
}

async function payments(scene: Scene, to: string, accounts: number): Promise<Written> {
  return {
    to: [to],
    subject: 'Payment run for checking',
    body: signed(scene, 'please check the accounts of our suppliers in the attached payment run.'),
    files: [await paymentRun(scene.random, accounts)],
  };
}

async function passengers(scene: Scene, to: string): Promise<Written> {
  const crossing = `N${scene.random.whole(100, 999)}`;
  return {
    to: [to],
    subject: `Manifest of ${crossing}`,
    body: signed(scene, 'the manifest of tonight is attached.'),
    files: [await manifest(scene.random, scene.random.whole(2, 18), crossing)],
  };
}

async function shipPurchase(scene: Scene): Promise<Written> {
  const to = scene.random.pick([
    partner('tidewater-shipbrokers.example'),
    'private.mail@postbox.example',
    partner('northquay-insurance.example'),
  ]);
  if (scene.random.happens(0.5))
    return {
      to: [to],
      subject: 'Inspection notes',
      body: signed(scene, 'the notes from the yard are attached.'),
      files: [await purchaseNotes()],
    };
  return {
    to: [to],
    subject: 'Next week',
    body: signed(scene, 'we talk about Slackwater on Tuesday; bring the class records.'),
  };
}

function locked(scene: Scene): Written {
  return {
    to: [partner('northquay-insurance.example')],
    subject: 'Survey photographs',
    body: signed(scene, 'the photographs are in the archive, the password comes by telephone.'),
    files: [lockedArchive(scene.random)],
  };
}

function parcels(scene: Scene): Written {
  return {
    to: [partner('quaysidestores.example')],
    subject: 'Parcels of this week',
    body: signed(scene, 'these are the tracking numbers of our orders.'),
    files: [trackingList(scene.random)],
  };
}

function ibanInText(scene: Scene): Written {
  const accounts = Array.from({ length: 3 }, () => `IBAN ${ibanNumber(scene.random)}`).join('\n');
  return {
    to: [partner('lowwater-fuels.example')],
    subject: 'Where to pay',
    body: signed(scene, `our accounts for this quarter:\n${accounts}`),
  };
}

const DAYS = 30;

/** Some 850 mails of the last 30 days, the oldest first, the same every time. */
export async function traffic(): Promise<DemoMail[]> {
  const random = chance(2026);
  const people = directory();
  const mails: DemoMail[] = [];
  for (const [count, write] of KINDS) {
    for (let index = 0; index < count; index += 1) {
      const from = random.pick(people);
      const daysAgo = random.whole(0, DAYS - 1);
      const hoursAgo = daysAgo * 24 + random.whole(0, 23) + random.next();
      const written = await write({ random, people, from, week: 46 - Math.floor(daysAgo / 7) });
      mails.push({
        from,
        to: written.to,
        subject: written.subject,
        body: written.body,
        files: written.files ?? [],
        hoursAgo,
      });
    }
  }
  return mails.sort((left, right) => right.hoursAgo - left.hoursAgo);
}
