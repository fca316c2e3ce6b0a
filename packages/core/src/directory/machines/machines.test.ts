import { readLdif } from '../change/ldif.js';
import { compileMachineGroup, machineGroupFaults, machineGroupsOf } from './machine-groups.js';
import { machineEffects, type NamedMachines } from './machine-effects.js';
import type { MachineRecord } from './machine-record.js';
import { machineMeaningsOf, machineOfRow, machinesOfEntries } from './machines-told.js';
import { planMachines } from './plan-machines.js';
import { isInRange, isSerialIn, plainAddress, readAddressRange, readSerialRange } from './ranges.js';

const machine = (over: Partial<MachineRecord> = {}): MachineRecord => ({
  ...{
    name: 'DESK-1',
    state: 'looked-after',
    serial: 'A100',
    addresses: ['10.1.2.3'],
    owner: '',
    listed: [],
  },
  ...over,
});

/** Addresses of RFC 5737, RFC 3849 and RFC 1918. */
it.each<[string, string, boolean]>([
  ['192.0.2.0/24', '192.0.2.255', true],
  ['192.0.2.0/24', '192.0.3.0', false],
  // Bits behind the mask do not matter: RFC 4632, 5.1.
  ['192.0.2.77/24', '192.0.2.1', true],
  ['10.0.0.0/8', '11.0.0.0', false],
  ['172.16.0.0/12', '172.31.255.255', true],
  ['172.16.0.0/12', '172.32.0.0', false],
  ['198.51.100.4/30', '198.51.100.7', true],
  ['198.51.100.4/30', '198.51.100.8', false],
  ['0.0.0.0/0', '203.0.113.9', true],
  ['203.0.113.9', '203.0.113.9', true],
  ['203.0.113.9/32', '203.0.113.8', false],
  ['10.1.0.5 - 10.1.0.40', '10.1.0.40', true],
  ['10.1.0.5 to 10.1.0.40', '10.1.0.41', false],
  ['2001:db8::/32', '2001:db8:ffff::1', true],
  ['2001:db8::/32', '2001:db9::', false],
  ['2001:db8::1 - 2001:db8::ff', '2001:0db8:0:0::00fe', true],
  ['10.0.0.0/8', '::ffff:10.1.2.3', true],
  ['10.0.0.0/8', '2001:db8::1', false],
  ['10.0.0.0/8', 'nonsense', false],
])('%s and %s: %s', (range, address, is) => {
  const read = readAddressRange(range);
  expect(read && isInRange(read, address)).toBe(is);
});

it.each([
  '',
  '10.1',
  '10.0.0.0/33',
  '10.0.0.0/',
  '10.0.0.0/x',
  '300.1.1.1',
  '::/129',
  '10.0.0.9 - 10.0.0.1',
  '10.0.0.1 - ::1',
  '0x0a000001',
])('%j is no range of addresses', (text) => expect(readAddressRange(text)).toBeNull());

it('knows one way to write an address', () => {
  expect(plainAddress(' 2001:0DB8:0000::0001 ')).toBe('2001:db8::1');
  expect(plainAddress('::ffff:192.0.2.1')).toBe('192.0.2.1');
  expect(plainAddress('010.1.2.3')).toBeNull();
});

it.each<[string, string, boolean]>([
  ['C02X1234', 'c02x1234', true],
  ['A100 - A199', 'a150', true],
  ['A100 - A199', 'A200', false],
  ['A100 - A199', 'B150', false],
  ['A100 - A199', 'A0150', false],
  ['A0098 to A0102', 'A0100', true],
  ['A98 - A102', 'A100', true],
  ['PF-20-0001 - PF-20-0500', 'PF-20-0320', true],
  ['9007199254740993 - 9007199254740995', '9007199254740994', true],
])('serial %s and %s: %s', (range, serial, is) => {
  const read = readSerialRange(range);
  expect(read !== null && isSerialIn(read, serial)).toBe(is);
});

it.each(['', 'A100 - B199', 'A199 - A100', 'AB - AC'])('%j is no range of serial numbers', (text) =>
  expect(readSerialRange(text)).toBeNull(),
);

describe('a group of machines', () => {
  const rule = (over = {}) => ({ name: 'Quay', networks: [], serials: [], names: [], ...over });
  const isIn = (over: object, own: Partial<MachineRecord> = {}) =>
    compileMachineGroup(rule(over))(machine(own));

  it('asks for one line of each kind that is given, and takes in nobody without a line', () => {
    expect(isIn({})).toBe(false);
    expect(isIn({ networks: ['192.0.2.0/24', '10.0.0.0/8'] })).toBe(true);
    expect(isIn({ networks: ['10.0.0.0/8'], serials: ['A1 - A9'] })).toBe(false);
    expect(isIn({ networks: ['10.0.0.0/8'], serials: ['a100'], names: ['desk-'] })).toBe(true);
    expect(isIn({ networks: ['10.0.0.0/8'] }, { addresses: [] })).toBe(false);
    // A line that cannot be read must not widen the group.
    expect(isIn({ networks: ['nonsense'], names: ['DESK'] })).toBe(false);
  });

  it('names what cannot be read, and is never listed as well', () => {
    expect(machineGroupFaults({ networks: ['10.0.0.0/8', '10'], serials: ['A9 - A1'] })).toEqual([
      { kind: 'network', line: '10' },
      { kind: 'serial', line: 'A9 - A1' },
    ]);
    const rules = [
      { name: 'Quay', test: () => false },
      { name: 'All', test: () => true },
    ];
    expect(machineGroupsOf(machine({ listed: ['quay', 'Hall'] }), rules)).toEqual(['All', 'Hall']);
  });
});

describe('an inventory', () => {
  it('is read by its headings', () => {
    const meanings = machineMeaningsOf([
      'Computer name',
      'Serial No.',
      'IP address',
      'Primary user',
      'Groups',
      'Managed',
      'RAM',
    ]);
    expect(meanings).toEqual(['name', 'serial', 'addresses', 'owner', 'listed', 'state', null]);
    const row = (...cells: readonly string[]) => machineOfRow(2, cells, meanings);
    expect(row('DESK-1', 'A1', '10.0.0.1; 2001:DB8::1', 'ada@a.example', 'Quay; Hall', 'no', '8')).toEqual({
      ...{ line: 2, name: 'DESK-1' },
      fields: {
        ...{ serial: 'A1', addresses: ['10.0.0.1', '2001:db8::1'], owner: 'ada@a.example' },
        ...{ listed: ['Quay', 'Hall'], state: 'strange' },
      },
    });
    expect(row('DESK-2', '', 'office', '', '', '', '').badAddress).toBe('office');
  });

  it('is read from entries of a directory, with owners by their addresses', () => {
    const ldif = [
      'dn: cn=ada,dc=a\nobjectClass: person\ncn: Ada\nmail: ada@a.example',
      'dn: cn=desk-9,dc=a\nobjectClass: device\nobjectClass: ipHost\ncn: desk-9\nserialNumber: Z9\nipHostNumber: 192.0.2.9\nowner: cn=Ada,dc=a',
    ].join('\n\n');
    const { entries } = readLdif(ldif, () => null);
    expect(machinesOfEntries(entries)).toMatchObject([
      { name: 'desk-9', fields: { serial: 'Z9', addresses: ['192.0.2.9'], owner: 'ada@a.example' } },
    ]);
  });

  it('changes what it says, keeps what it does not say, and refuses what it cannot take', () => {
    const own = [machine(), machine({ name: 'DESK-2' }), machine({ name: 'DESK-3' })];
    const told = [
      { line: 1, name: 'desk-1', fields: { serial: 'B7' } },
      { line: 2, name: 'DESK-4', fields: {} },
      { line: 3, name: 'Desk-4', fields: {} },
      { line: 4, name: ' ', fields: {} },
      { line: 5, name: 'DESK-2', fields: {}, badAddress: 'x' },
    ];
    const plan = planMachines(told, { own, whole: true });
    expect(plan.changed).toEqual([{ before: own[0], after: machine({ serial: 'B7' }) }]);
    expect(plan.added.map(({ name }) => name)).toEqual(['DESK-4']);
    expect(plan.refused.map(({ line, code }) => [line, code])).toEqual([
      [3, 'twice'],
      [4, 'no-name'],
      [5, 'bad-address'],
    ]);
    // The second is listed, even though its line was refused.
    expect(plan.left.map(({ name }) => name)).toEqual(['DESK-3']);
    expect(planMachines(told, { own, whole: false }).left).toEqual([]);
    expect(planMachines([{ line: 1, name: 'DESK-1', fields: {} }], { own, whole: false }).unchanged).toBe(1);
  });
});

describe('what is for some machines', () => {
  const policy = (over: Partial<NamedMachines>): NamedMachines => ({
    ...{ of: 'policy', with: [], without: [], everywhere: false },
    ...over,
  });
  const quay = { kind: 'machines', group: 'Quay' } as const;
  const at = (...groups: readonly string[]) => ({ name: 'DESK-1', groups });
  const counts = (
    named: NamedMachines,
    before: ReturnType<typeof at> | null,
    after: ReturnType<typeof at> | null,
  ) => machineEffects([named], [{ before, after }]).map(({ joining, leaving }) => [joining, leaving]);

  it('begins and ends to be for a machine by its groups and its name', () => {
    expect(counts(policy({ with: [quay] }), at(), at('QUAY'))).toEqual([[1, 0]]);
    expect(counts(policy({ with: [quay] }), at('Quay'), null)).toEqual([[0, 1]]);
    expect(counts(policy({ with: [quay] }), at('Quay'), at('Quay', 'Hall'))).toEqual([]);
    expect(counts(policy({ with: [{ kind: 'machine', machine: 'desk-1' }] }), null, at())).toEqual([[1, 0]]);
    // Left out of what is for all others.
    expect(counts(policy({ without: [quay], everywhere: true }), at(), at('Quay'))).toEqual([[0, 1]]);
    // For places alone, and not for this group: a machine does not matter.
    expect(counts(policy({ without: [quay] }), at(), at('Quay'))).toEqual([]);
  });

  it('says each thing once', () => {
    const named = [policy({ with: [quay] }), policy({ with: [{ kind: 'machines', group: 'Hall' }] })];
    expect(machineEffects(named, [{ before: null, after: at('Quay', 'Hall') }])).toEqual([
      { of: 'policy', joining: 1, leaving: 0, examples: ['DESK-1'] },
    ]);
  });
});
