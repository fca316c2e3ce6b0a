import fc from 'fast-check';
import { audienceEffects, vanishingNames } from './audience-effect.js';
import { groupsOf, isInGroup } from './group-rule.js';
import { fieldsOfMeanings, meaningsOf } from './headings.js';
import type { PersonRecord, ListedPerson } from './person-record.js';
import { planChange, type PlanOptions } from './plan-change.js';

const person = (name: string, over: Partial<PersonRecord> = {}): PersonRecord => ({
  ...{ address: `${name}@a.example`, name, department: 'Crew', office: 'North', title: 'Mate' },
  ...{ groups: [], manager: null, language: 'en', zone: '', key: null, ...over },
});
const told = (name: string, over: Partial<ListedPerson> = {}, line = 2): ListedPerson => ({
  ...{ line, address: `${name}@a.example`, fields: {} },
  ...over,
});
const plan = (lines: readonly ListedPerson[], over: Partial<PlanOptions> = {}) =>
  planChange(lines, {
    ...{ own: [], byHand: [], elsewhere: new Set<string>(), whole: true },
    isInside: (address) => address.endsWith('@a.example'),
    ...over,
  });

describe('a list of people', () => {
  it('adds who is new, changes who differs, leaves who stayed, and lets go who is missing', () => {
    const own = [person('ada'), person('bea'), person('cy')];
    const result = plan([told('ada', { fields: { title: 'Master' } }), told('bea'), told('dot')], { own });
    expect(result.added.map(({ address }) => address)).toEqual(['dot@a.example']);
    expect(result.changed).toMatchObject([{ before: own[0], after: { title: 'Master' }, fields: ['title'] }]);
    expect(result.left).toEqual([own[2]]);
    expect(result.unchanged).toBe(1);
    expect(result.leavingShare).toBeCloseTo(1 / 3);
  });

  it('lets nobody go where it tells of some people only', () => {
    expect(plan([told('dot')], { own: [person('ada')], whole: false }).left).toEqual([]);
  });

  it('takes zones of the IANA database, and keeps what was known where it says another', () => {
    const own = [person('ada', { zone: 'Europe/Oslo' })];
    const zoneOf = (zone: string) =>
      plan([told('ada', { fields: { zone } })], { own }).changed[0]?.after.zone;
    expect([zoneOf('Asia/Tokyo'), zoneOf(''), zoneOf('Mars/Base')]).toEqual(['Asia/Tokyo', '', undefined]);
  });

  it('keeps what it says nothing about', () => {
    const [change] = plan([told('ada', { fields: { office: 'South' } })], { own: [person('ada')] }).changed;
    expect(change?.after).toEqual(person('ada', { office: 'South' }));
  });

  it('knows by a permanent id that an address is another person’s now, and that two were exchanged', () => {
    const own = [person('ada', { key: '1' }), person('bea', { key: '2' })];
    const lines = [
      told('bea', { key: '1', fields: { name: 'ada' } }),
      told('ada', { key: '2', fields: { name: 'bea' } }, 3),
    ];
    const exchanged = plan(lines, { own });
    expect(exchanged.changed.map(({ before, after }) => [before.address, after.address])).toEqual([
      ['ada@a.example', 'bea@a.example'],
      ['bea@a.example', 'ada@a.example'],
    ]);
    const taken = plan([told('ada', { key: '3' })], { own: [person('ada', { key: '1' })], whole: false });
    expect(taken.added).toMatchObject([{ key: '3' }]);
    expect(taken.left).toMatchObject([{ key: '1' }]);
  });

  it('takes over who was entered by hand, and lets nobody of them go', () => {
    const result = plan([told('ada')], { byHand: [person('ada'), person('bea')] });
    expect(result.changed).toMatchObject([{ fields: ['source'] }]);
    expect([result.added, result.left]).toEqual([[], []]);
  });

  it('gives nobody the address of somebody who was entered by hand', () => {
    const own = [person('ada', { key: '1' })];
    const result = plan([told('bea', { key: '1' })], { own, byHand: [person('bea')] });
    expect(result.refused).toMatchObject([{ code: 'belongs-elsewhere', value: 'bea@a.example' }]);
    expect([result.changed, result.left, result.unchanged]).toEqual([[], [], 0]);
  });

  it.each([
    ['no address', told('', { address: '  ' }), 'no-address'],
    ['no mail address', told('', { address: 'ada at home' }), 'bad-address'],
    ['a line break in an address', told('', { address: 'a@b\nc' }), 'bad-address'],
    ['an address of another source', told('zoe'), 'belongs-elsewhere'],
    ['a long name', told('ada', { fields: { name: 'x'.repeat(121) } }), 'too-long'],
    ['very many groups', told('ada', { fields: { groups: Array(201).fill('g') } }), 'too-many-groups'],
  ])('refuses a line with %s, and takes the others', (_what, line, code) => {
    const result = plan([line, told('bea', {}, 3)], { elsewhere: new Set(['zoe@a.example']) });
    expect(result.refused).toMatchObject([{ line: 2, code }]);
    expect(result.added).toHaveLength(1);
  });

  it.each([
    ['by address', told('ada', { fields: { title: 'x'.repeat(121) } })],
    ['by permanent id', told('', { address: 'ada at home', key: '7' })],
  ])('lets nobody go whom a refused line names %s', (_how, line) => {
    const own = [person('ada', { key: '7' }), person('bea')];
    const result = plan([line], { own });
    expect(result.refused).toHaveLength(1);
    expect(result.left).toEqual([own[1]]);
  });

  it('takes the first of two lines for one address, whatever their capitals, and names both', () => {
    const result = plan([told('ada'), told('ADA', { fields: { title: 'Cook' } }, 9)]);
    expect(result.added).toHaveLength(1);
    expect(result.refused).toEqual([{ line: 9, code: 'twice', value: 'ada@a.example', other: 2 }]);
  });

  it('remarks on managers who are unknown or go round, and on addresses outside', () => {
    const lines = [
      told('ada', { fields: { manager: 'BEA@a.example' } }),
      told('bea', { fields: { manager: 'ada@a.example' } }, 3),
      told('cy', { fields: { manager: 'nobody@a.example' } }, 4),
      told('dot', { fields: { manager: 'ada@a.example' } }, 5),
      told('', { address: 'eve@else.example' }, 6),
    ];
    expect(plan(lines).remarks.map(({ line, code }) => [line, code])).toEqual([
      [2, 'manager-circle'],
      [3, 'manager-circle'],
      [4, 'unknown-manager'],
      [6, 'outside-domain'],
    ]);
  });

  it('is the same when it is taken over and told again, and counts each line once', () => {
    const name = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f');
    const line = fc.record({
      name,
      key: fc.constantFrom(null, '1', '2', '3'),
      title: fc.constantFrom('x', 'y'),
    });
    fc.assert(
      fc.property(fc.array(line, { maxLength: 8 }), fc.array(line, { maxLength: 8 }), (first, second) => {
        const lines = (from: typeof first) =>
          from.map(({ name: who, key, title }, at) => told(who, { key, line: at + 2, fields: { title } }));
        const own = after([], plan(lines(first)));
        const result = plan(lines(second), { own });
        expect(result.added.length + result.changed.length + result.unchanged + result.refused.length).toBe(
          second.length,
        );
        const now = after(own, result);
        expect(new Set(now.map(({ address }) => address)).size).toBe(now.length);
        const again = plan(lines(second), { own: now });
        expect([again.added, again.changed, again.left]).toEqual([[], [], []]);
      }),
    );
  });
});

/** The people of a source after a plan. */
function after(own: readonly PersonRecord[], result: ReturnType<typeof plan>): PersonRecord[] {
  const gone = new Set([...result.left, ...result.changed.map(({ before }) => before)]);
  return [
    ...own.filter((each) => !gone.has(each)),
    ...result.changed.map((step) => step.after),
    ...result.added,
  ];
}

describe('a group by condition', () => {
  const rows = [
    [
      { field: 'department', test: 'is', value: 'crew' },
      { field: 'title', test: 'begins', value: 'ma' },
    ],
    [{ field: 'domain', test: 'is', value: 'ships.example' }],
  ] as const;

  it('holds who meets all lines of one row', () => {
    expect(isInGroup({ rows }, person('ada'))).toBe(true);
    expect(isInGroup({ rows }, person('ada', { title: 'Cook' }))).toBe(false);
    expect(isInGroup({ rows }, person('ada', { title: 'Cook', address: 'a@north.ships.example' }))).toBe(
      true,
    );
    expect(isInGroup({ rows }, person('ada', { department: '', address: 'a@warships.example' }))).toBe(false);
    expect(isInGroup({ rows: [[]] }, person('ada'))).toBe(false);
  });

  it('takes the place of a listed one of its name', () => {
    const rule = { name: 'Masters', rows };
    expect(groupsOf(person('ada', { groups: ['masters', 'Deck'] }), [rule])).toEqual(['Deck', 'Masters']);
    expect(groupsOf(person('cy', { title: 'Cook', groups: ['Masters'] }), [rule])).toEqual([]);
  });
});

it('says for whom an audience begins and ends', () => {
  const audience = { with: [{ kind: 'department', department: 'Crew' } as const], without: [] };
  const effects = audienceEffects(
    [{ of: 'policy "Lists"', audience }],
    [
      { before: person('ada'), after: person('ada', { department: 'Desk' }) },
      { before: null, after: person('bea') },
      { before: person('cy'), after: null },
      { before: person('dot'), after: person('dot', { title: 'Cook' }) },
    ],
  );
  expect(effects).toEqual([
    {
      ...{ of: 'policy "Lists"', joining: 1, leaving: 2 },
      examples: ['bea@a.example', 'ada@a.example', 'cy@a.example'],
    },
  ]);
});

it('names what audiences use and nobody would have any more, whatever its capitals', () => {
  const audience = {
    with: [{ kind: 'group', group: 'DECK' } as const, { kind: 'department', department: 'Crew' } as const],
    without: [{ kind: 'office', office: 'Nowhere' } as const, { kind: 'group', group: 'deck' } as const],
  };
  const ada = person('ada', { groups: ['Deck'] });
  const facts = (groups: readonly string[]) => ({ ...ada, groups });
  expect(vanishingNames([{ of: 'rule', audience }], [facts(['Deck'])], [facts([])])).toEqual([
    { kind: 'group', name: 'deck' },
  ]);
  expect(vanishingNames([{ of: 'rule', audience }], [facts(['Deck'])], [facts(['deck'])])).toEqual([]);
});

it('knows what columns hold by their headings, each meaning once', () => {
  const meanings = meaningsOf([
    'E-Mail',
    'First name',
    'Surname',
    'Dept.',
    'Reports to',
    'Shoe size',
    'Mail',
  ]);
  expect(meanings).toEqual(['address', 'given-name', 'family-name', 'department', 'manager', null, null]);
  expect(fieldsOfMeanings(meanings)).toEqual(['name', 'department', 'manager']);
});
