import { cardsFound, findingOf, mailOf, SOME_TIME } from '@lantern/testkit';
import type { PatternId } from '../../shared/brand.js';
import { clockIn, evaluateCondition, meet, minutesOf } from './condition.js';
import { isLike } from '../model/like.js';
import type { LeafCondition, TimeCondition } from '../model/conditions.js';
import type { Exchange, ExchangeId } from '../model/exchange.js';

const OUT = ['x@out.example'];
const held = (condition: LeafCondition, movement = mailOf([], OUT), exchanges: readonly Exchange[] = []) =>
  meet(condition, { movement, exchanges, spots: [] }).held;

describe('a time of day', () => {
  const night: TimeCondition = { kind: 'time', from: '22:00', to: '06:00', days: [], zone: 'Europe/Oslo' };
  const at = (time: string, over: Partial<TimeCondition> = {}) =>
    held({ ...night, ...over }, mailOf([], OUT, { at: Date.parse(time) }));

  // Oslo is one hour before UTC in winter and two in summer (IANA time zone database).
  it.each([
    ['2026-01-10T20:59:00Z', false],
    ['2026-01-10T21:00:00Z', true],
    ['2026-01-11T04:59:00Z', true],
    ['2026-01-11T05:00:00Z', false],
    ['2026-07-10T20:00:00Z', true],
  ])('%s is in the night of Oslo: %p', (time, expected) => expect(at(time)).toBe(expected));

  it('counts the small hours to the day the night began', () => {
    // 2026-01-09 is a Friday.
    expect(at('2026-01-10T02:00:00Z', { days: [5] })).toBe(true);
    expect(at('2026-01-09T02:00:00Z', { days: [5] })).toBe(false);
    expect(at('2026-01-12T02:00:00Z', { days: [7] })).toBe(true);
  });

  it("goes by the sender's own clock where that is asked and known", () => {
    // Auckland is thirteen hours before UTC in January (IANA time zone database): 10:30 is 23:30 there.
    const from = (zone: string | undefined, ofSender: boolean) => {
      const sender = { address: 'a@own.example', ...(zone === undefined ? {} : { zone }) };
      const movement = mailOf([], OUT, { at: Date.parse('2026-01-10T10:30:00Z'), sender });
      return held({ ...night, ofSender }, movement);
    };
    expect([from('Pacific/Auckland', true), from('Pacific/Auckland', false)]).toEqual([true, false]);
    expect([from(undefined, true), from('No/Where', true)]).toEqual([false, false]);
  });

  it('reads a span within one day', () => {
    const office = { from: '08:00', to: '17:00', zone: 'UTC' };
    expect(at('2026-01-09T08:00:00Z', office)).toBe(true);
    expect(at('2026-01-09T17:00:00Z', office)).toBe(false);
  });

  it('knows weekdays', () => expect(clockIn('UTC', SOME_TIME)).toEqual({ minutes: 600, day: 3 }));

  it.each([
    ['00:00', 0],
    ['23:59', 1439],
    ['24:00', 1440],
    ['24:01', -1],
    ['7:00', -1],
    ['12:60', -1],
    ['', -1],
  ])('reads %p as %i', (text, minutes) => expect(minutesOf(text)).toBe(minutes));
});

describe('isLike', () => {
  it.each([
    ['Report.PDF', '*.pdf', true],
    ['report.pdf.exe', '*.pdf', false],
    ['crew-list-2026.xlsx', 'crew*2026*', true],
    ['a', 'a*a', false],
    ['aa', 'a*a', true],
    ['abcbc', 'a*bc*bc', true],
    ['abc', 'a*bc*bc', false],
    ['', '*', true],
    ['x', '', false],
  ])('%p like %p: %p', (name, like, expected) => expect(isLike(name, like)).toBe(expected));

  it('stays quick on names made to be slow', () => {
    expect(isLike('a'.repeat(50_000), `${'*a'.repeat(500)}*b`)).toBe(false);
  });
});

describe('conditions over the past', () => {
  const minutesAgo = (minutes: number, over: object = {}) => ({
    at: SOME_TIME - minutes * 60_000,
    outside: true,
    matched: false,
    sameStopped: false,
    ...over,
  });
  const movement = mailOf([], OUT, {
    earlier: [
      minutesAgo(1, { matched: true }),
      minutesAgo(9, { outside: false, sameStopped: true }),
      minutesAgo(11),
    ],
  });

  it.each([
    ['all', 3, true],
    ['all', 4, false],
    ['outside', 2, true],
    ['outside', 3, false],
    ['matched', 1, true],
    ['matched', 2, false],
  ] as const)('%s, at least %i in ten minutes: %p', (of, atLeast, expected) =>
    expect(held({ kind: 'rate', of, atLeast, minutes: 10 }, movement)).toBe(expected),
  );

  it('counts tries with the same content', () => {
    expect(held({ kind: 'tries', atLeast: 1, minutes: 10 }, movement)).toBe(true);
    expect(held({ kind: 'tries', atLeast: 1, minutes: 5 }, movement)).toBe(false);
  });
});

describe('files', () => {
  const movement = mailOf([], OUT, {
    files: [
      { name: 'list.xlsx', kind: 'office', bytes: 3_000, misnamed: false },
      { name: 'photo.pdf', kind: 'program', bytes: 100, misnamed: true },
    ],
  });
  const file = { kind: 'file', kinds: [], names: [], atLeastKilobytes: null, misnamed: false } as const;

  it('asks everything of the same file', () => {
    expect(held({ ...file, kinds: ['office'], names: ['*.xlsx'] }, movement)).toBe(true);
    expect(held({ ...file, kinds: ['office'], names: ['*.pdf'] }, movement)).toBe(false);
    expect(held({ ...file, atLeastKilobytes: 3 }, movement)).toBe(false);
    expect(held({ ...file, misnamed: true }, movement)).toBe(true);
  });

  it('adds up sizes', () => {
    expect(meet({ kind: 'size', atLeastKilobytes: 3 }, { movement, exchanges: [], spots: [] })).toMatchObject(
      {
        held: true,
        value: 3,
      },
    );
  });
});

describe('the register of exchanges', () => {
  const refunds: Exchange = {
    id: 'x' as ExchangeId,
    name: 'Refund lists to the processor',
    from: { with: [{ kind: 'department', department: 'Treasury' }], without: [] },
    to: ['cardprocessor.example', 'desk@agency.example'],
    patterns: ['payment-card'],
    why: 'Contract',
    until: '2026-03-04',
  };
  const sender = { address: 'a@merrowstrait.example', department: 'Treasury' };
  const holds = (over: object, to: readonly string[], findings = cardsFound(2)) =>
    held({ kind: 'exchange', exchanges: [] }, mailOf(findings, to, { sender, ...over }), [refunds]);

  it('holds for its people, receivers, content and days', () => {
    expect(holds({}, ['x@eu.cardprocessor.example', 'b@merrowstrait.example'])).toBe(true);
    expect(holds({ at: Date.parse('2026-03-05T00:00:00Z') }, ['x@cardprocessor.example'])).toBe(false);
    expect(holds({ sender: { ...sender, department: 'Fleet' } }, ['x@cardprocessor.example'])).toBe(false);
  });

  it('does not hold when one receiver, or one finding, is not in it', () => {
    expect(holds({}, ['x@cardprocessor.example', 'x@out.example'])).toBe(false);
    expect(holds({}, ['other@agency.example'])).toBe(false);
    const passport = findingOf('1', { pattern: 'passport' as PatternId });
    expect(holds({}, ['desk@agency.example'], [...cardsFound(1), passport])).toBe(false);
    expect(holds({}, ['desk@agency.example'], [...cardsFound(1), { ...passport, certainty: 40 }])).toBe(true);
  });

  it('holds for nothing that stays inside', () => expect(holds({}, ['b@merrowstrait.example'])).toBe(false));
});

it('names the places of what cannot be read, for the reasons asked for', () => {
  const movement = mailOf([], OUT, {
    parts: [{ status: 'unreadable', role: 'attachment', path: ['a.zip', 'b.pdf'], reason: 'encrypted' }],
  });
  const scene = { movement, exchanges: [], spots: [] };
  expect(evaluateCondition({ kind: 'unreadable', reasons: ['encrypted'] }, scene)).toMatchObject({
    held: true,
    names: ['a.zip › b.pdf'],
  });
  expect(evaluateCondition({ kind: 'unreadable', reasons: ['corrupt'] }, scene).held).toBe(false);
});

describe('labels that come along', () => {
  const bridge = { id: 'bridge', name: 'Bridge only' };
  const quay = { id: 'quay', name: 'Quay' };
  const asks = (labels: readonly string[], carries: 'one-of' | 'none' = 'one-of'): LeafCondition => ({
    kind: 'label',
    carries,
    labels,
  });
  const carrying = (...labels: readonly { id: string; name: string }[]) => mailOf([], OUT, { labels });

  it.each([
    ['one of these', asks(['bridge']), carrying(quay, bridge), true],
    ['another', asks(['bridge']), carrying(quay), false],
    ['any, where none is named', asks([]), carrying(quay), true],
    ['none of any', asks([]), carrying(), false],
    ['no label at all', asks([], 'none'), carrying(), true],
    ['one where none is asked for', asks([], 'none'), carrying(quay), false],
    ['nothing that anybody looked at', asks([], 'none'), mailOf([], OUT), true],
  ])('%s', (_what, condition, movement, expected) => {
    expect(held(condition, movement)).toBe(expected);
  });

  it('names what made it hold, each once', () => {
    expect(meet(asks([]), { movement: carrying(bridge, bridge, quay), exchanges: [], spots: [] })).toEqual({
      held: true,
      value: 3,
      outOf: 3,
      names: ['Bridge only', 'Quay'],
    });
  });
});

describe('out of what, into what, over what', () => {
  const booking = { kind: 'application', name: 'Booking system' } as const;
  const movement = mailOf([], OUT, {
    from: [booking],
    into: [{ kind: 'device', device: 'plugged-in', name: 'Stick 4', trusted: false }],
    link: 'whole-house',
    readers: 126,
    connection: 'readable',
    machine: { name: 'Q', state: 'strange', groups: [] },
    network: 'trusted',
    parts: [
      { status: 'read', role: 'attachment', path: ['a'], characters: 1, rows: 60, findings: [] },
      { status: 'read', role: 'attachment', path: ['b'], characters: 1, rows: 40, findings: [] },
      { status: 'read', role: 'body', path: ['body'], characters: 1, findings: [] },
    ],
  });

  it.each<[string, LeafCondition, boolean]>([
    ['taken from', { kind: 'taken-from', spots: [booking] }, true],
    ['not put where it was taken from', { kind: 'put-into', spots: [booking] }, false],
    ['a link of a kind', { kind: 'link', links: ['whole-house'] }, true],
    ['a link of any kind', { kind: 'link', links: [] }, true],
    ['a link of another kind', { kind: 'link', links: ['whoever-holds-it'] }, false],
    ['a connection', { kind: 'connection', states: ['readable', 'not-known'] }, true],
    ['another connection', { kind: 'connection', states: ['encrypted'] }, false],
    ['a machine', { kind: 'machine', states: ['strange'] }, true],
    ['a network', { kind: 'network', states: ['foreign', 'not-known'] }, false],
    ['so many readers through a link for the house', { kind: 'reach', side: 'anywhere', atLeast: 100 }, true],
    ['readers outside through it', { kind: 'reach', side: 'outside', atLeast: 2 }, false],
    ['rows of all tables together', { kind: 'rows', atLeast: 100 }, true],
    ['more rows', { kind: 'rows', atLeast: 101 }, false],
  ])('%s', (_what, condition, expected) => expect(held(condition, movement)).toBe(expected));

  it('lets any number read what a link opens for whoever holds it', () =>
    expect(
      held({ kind: 'reach', side: 'outside', atLeast: 10_000 }, mailOf([], [], { link: 'whoever-holds-it' })),
    ).toBe(true));

  it.each<[LeafCondition, boolean]>([
    [{ kind: 'link', links: [] }, false],
    [{ kind: 'connection', states: ['not-known'] }, true],
    [{ kind: 'machine', states: ['strange'] }, false],
    [{ kind: 'network', states: ['not-known'] }, true],
  ])('knows nothing of a channel that tells nothing: %p', (condition, expected) =>
    expect(held(condition)).toBe(expected),
  );
});
