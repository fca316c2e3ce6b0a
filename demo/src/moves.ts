import { cardNumber, type Chance, chance, grouped, passportLines } from '@lantern/testkit';
import { type DemoPerson, directory } from './directory.js';

/** A room of the chat, with its members by address. */
export interface DemoRoom {
  readonly id: string;
  readonly name: string;
  readonly direct: boolean;
  readonly members: readonly string[];
}

const roomId = (last: string): string => `1f7a3c40-2b6e-4d11-9c3a-0000000000${last}`;
const card = (random: Chance): string => grouped(cardNumber(random));
const us = (name: string): string => `${name}@merrowstrait.example`;

export const ROOMS: readonly DemoRoom[] = [
  {
    id: roomId('01'),
    name: 'Boarding, night ferry',
    direct: false,
    members: [us('orla.fenwick'), us('bea.lindqvist'), us('per.halloran'), us('jun.abara')],
  },
  {
    id: roomId('02'),
    name: 'Island Holidays groups',
    direct: false,
    members: [us('orla.fenwick'), us('bea.lindqvist'), 'groups@islandholidays.example'],
  },
  {
    id: roomId('03'),
    name: 'Customs clearance',
    direct: false,
    members: [us('jun.abara'), us('tomas.reave'), 'declarations@customs-broker.example'],
  },
  {
    id: roomId('04'),
    name: 'Orla and Bea',
    direct: true,
    members: [us('orla.fenwick'), us('bea.lindqvist')],
  },
];

/** Something of the demo's past that was put somewhere. `hoursAgo` counts back from when the demo is loaded. */
export interface DemoMove {
  readonly agent: 'chat' | 'browser' | 'endpoint';
  /** A room, a site, a program or a device. */
  readonly place: string;
  readonly person: string;
  readonly activity: 'write' | 'type' | 'paste' | 'copy' | 'print';
  /** The program it was taken from; empty for none. */
  readonly takenFrom: string;
  readonly text: string;
  readonly hoursAgo: number;
}

/** A text on the drive, with whom it is open for. */
export interface DemoDriveFile {
  readonly folder: string;
  readonly name: string;
  readonly owner: string;
  readonly text: string;
  /** Name of the label that its owner chose, or that a rule sets. */
  readonly label: string;
  readonly openFor: readonly string[];
}

/** Files of the drive: most are harmless, one was opened outside before anybody put cards into it. */
export function driveFiles(): DemoDriveFile[] {
  const random = chance(8_800);
  const cards = Array.from({ length: 8 }, () => card(random));
  return [
    {
      folder: '/Passenger desk/Groups',
      name: 'Group departures.txt',
      owner: us('orla.fenwick'),
      text: 'Departures for groups\nFriday 08:20, Saturday 09:40, Sunday 12:15\n',
      label: 'Open water',
      openFor: ['groups@islandholidays.example', us('bea.lindqvist')],
    },
    {
      folder: '/Passenger desk/Groups',
      name: 'Refunds of the week.csv',
      owner: us('orla.fenwick'),
      text: `booking;card;amount\n${cards.map((number, index) => `${4100 + index};${number};${20 + index}.00`).join('\n')}\n`,
      label: 'Passenger care',
      openFor: [us('bea.lindqvist')],
    },
    {
      folder: '/Manifests/Night ferry',
      name: 'Manifest 14.txt',
      owner: us('jun.abara'),
      text: `Passengers with documents\n${passportLines(random, 'Eriksson', 'Anna')}\n`,
      label: 'Passenger care',
      openFor: [us('per.halloran')],
    },
    {
      folder: '/Fleet/Dry dock',
      name: 'Dry dock plan.txt',
      owner: us('tomas.reave'),
      text: 'Hull cleaning, propeller, anodes. Two weeks in March.\n',
      label: 'Open water',
      openFor: ['purser@oldharbour.example'],
    },
  ];
}

const SMALL_TALK = [
  'Gate 2 opens at 05:40 today.',
  'The coach party is 20 minutes late, hold the ramp please.',
  'Who has the keys to the linen store?',
  'Berth 4 is free again.',
  'I sent the winter timetable to the printers.',
  'Fog until nine, the pilot is informed.',
];

interface Kind {
  readonly agent: DemoMove['agent'];
  readonly places: readonly string[];
  readonly activity: DemoMove['activity'];
  readonly takenFrom?: string;
  readonly often: number;
  text(random: Chance): string;
}

const KINDS: readonly Kind[] = [
  {
    agent: 'chat',
    places: ROOMS.map(({ id }) => id),
    activity: 'write',
    often: 60,
    text: (random) => random.pick(SMALL_TALK),
  },
  {
    agent: 'chat',
    places: [roomId('02'), roomId('04')],
    activity: 'write',
    often: 9,
    text: (random) => `The card for the Halvorsen booking is ${card(random)}, please refund it.`,
  },
  {
    agent: 'chat',
    places: [roomId('03')],
    activity: 'write',
    often: 4,
    text: (random) => `Passport line for the declaration:\n${passportLines(random, 'Eriksson', 'Anna')}`,
  },
  {
    agent: 'browser',
    places: ['marlow', 'intranet', 'pigeonpost'],
    activity: 'type',
    often: 24,
    text: (random) =>
      random.pick([
        'Write a friendly note about a delayed ferry.',
        'What is the tide in Saltwick Quay tomorrow?',
        'Make this shorter: the ramp is closed on Sunday.',
      ]),
  },
  {
    agent: 'browser',
    places: ['marlow'],
    activity: 'paste',
    often: 7,
    text: (random) => `Turn this into a letter: passenger paid with ${card(random)} and wants it back.`,
  },
  {
    agent: 'browser',
    places: ['marlow'],
    activity: 'paste',
    often: 2,
    text: () => 'Summarise for the board: Project Slackwater, price and inspection of MV Corrigan Bay.',
  },
  {
    agent: 'browser',
    places: ['harbour-form'],
    activity: 'type',
    often: 4,
    text: (random) => `Charge for the berth: ${card(random)}`,
  },
  {
    agent: 'endpoint',
    places: ['manifest'],
    activity: 'paste',
    takenFrom: 'Booking system',
    often: 20,
    text: (random) => `Booking ${random.whole(4000, 9000)}, 2 adults, cabin`,
  },
  {
    agent: 'endpoint',
    places: ['notes', 'stick-house'],
    activity: 'paste',
    takenFrom: 'Booking system',
    often: 6,
    text: (random) => `Booking ${random.whole(4000, 9000)}, paid by ${card(random)}`,
  },
  {
    agent: 'endpoint',
    places: ['stick-blue'],
    activity: 'copy',
    often: 5,
    text: (random) => `Refunds of the week\n${card(random)}\n${card(random)}`,
  },
  {
    agent: 'endpoint',
    places: ['printer-office', 'printer-quay'],
    activity: 'print',
    often: 6,
    text: (random) => `Boarding list\n${passportLines(random, 'Eriksson', 'Anna')}`,
  },
];

const DAYS = 30;

/** What was written, pasted, copied and printed in the last month, the same every time. Oldest first. */
export function moves(): DemoMove[] {
  const random = chance(7_700);
  const people = directory();
  const made = KINDS.flatMap((kind) =>
    Array.from({ length: kind.often }, (): DemoMove => {
      const place = random.pick(kind.places);
      const { agent, activity, takenFrom = '' } = kind;
      return {
        agent,
        place,
        activity,
        takenFrom,
        person: personFor(kind.agent, place, random, people),
        text: kind.text(random),
        hoursAgo: random.whole(1, DAYS * 24),
      };
    }),
  );
  return made.sort((left, right) => right.hoursAgo - left.hoursAgo);
}

function personFor(
  agent: DemoMove['agent'],
  place: string,
  random: Chance,
  people: readonly DemoPerson[],
): string {
  if (agent !== 'chat') return random.pick(people).address;
  const members = ROOMS.find(({ id }) => id === place)?.members ?? [];
  return random.pick(members.filter((member) => member.endsWith('@merrowstrait.example')));
}
