import type { ApplicationUse, InspectedMovement } from '../../movement/index.js';
import { bandOf, findingOf, mailOf, policyOf, ruleOf, setOf, SOME_TIME } from '@lantern/testkit';
import type { LeafCondition } from '../model/conditions.js';
import { implies } from '../checks/implies.js';
import { evaluate } from './evaluate.js';
import { meet } from './condition.js';
import { proofAsked, trustPlace } from './proof.js';
import { windowKey, windowsAsked } from './windows.js';

const MINUTE = 60_000;

function used(use: Partial<ApplicationUse> = {}, over: Partial<InspectedMovement> = {}): InspectedMovement {
  return mailOf([], [], {
    channel: 'business',
    use: { deed: 'export', by: 'screen', objects: ['customers'], ...use },
    ...over,
  });
}
const ask = (condition: LeafCondition, movement: InspectedMovement) =>
  meet(condition, { movement, exchanges: [], spots: [] });
const holds = (condition: LeafCondition, movement: InspectedMovement): boolean =>
  ask(condition, movement).held;

describe('conditions about business applications', () => {
  const any = { kind: 'use', deeds: [], by: null, objects: [], reports: [] } as const;

  it('asks what is done, how, with which records and from which report; empty asks nothing', () => {
    expect(holds(any, used())).toBe(true);
    expect(holds(any, mailOf([], []))).toBe(false);
    expect(holds({ ...any, deeds: ['sign-in', 'export'] }, used())).toBe(true);
    expect(holds({ ...any, by: 'interface' }, used())).toBe(false);
    expect(holds({ ...any, objects: ['cust*'] }, used())).toBe(true);
    expect(holds({ ...any, objects: ['bookings'] }, used())).toBe(false);
    expect(holds({ ...any, reports: ['*season'] }, used())).toBe(false);
    expect(holds({ ...any, reports: ['*SEASON'] }, used({ report: 'Bookings of the season' }))).toBe(true);
  });

  it('counts the records that the application names, and rows of tables where it names none', () => {
    const table = {
      status: 'read',
      role: 'attachment',
      path: ['a'],
      characters: 9,
      rows: 7,
      findings: [],
    } as const;
    expect(ask({ kind: 'rows', atLeast: 5_001 }, used({ rows: 5_001 }))).toMatchObject({
      held: true,
      value: 5_001,
    });
    expect(ask({ kind: 'rows', atLeast: 5_001 }, used({ rows: 5_000 }, { parts: [table] }))).toMatchObject({
      held: false,
      value: 5_000,
    });
    // Batch by batch: what went out before in the same export counts with this batch.
    expect(ask({ kind: 'rows', atLeast: 5_001 }, used({ rows: 1, before: 5_000 }))).toMatchObject({
      ...{ held: true, value: 5_001 },
    });
    expect(ask({ kind: 'rows', atLeast: 7 }, used({}, { parts: [table] }))).toMatchObject({
      held: true,
      value: 7,
    });
  });

  it('counts columns that hold a pattern, the same name in two tables once', () => {
    const part = (fields: Record<string, Record<string, number>>) =>
      ({
        status: 'read',
        role: 'attachment',
        path: ['a'],
        characters: 9,
        rows: 9,
        fields,
        findings: [],
      }) as const;
    const movement = used(
      {},
      {
        parts: [
          part({ card: { Card: 95, Note: 40 } }),
          part({ card: { Card: 80, Paid: 85 }, iban: { To: 99 } }),
        ],
      },
    );
    const wanted = { kind: 'fields', pattern: 'card', certainty: 80, atLeast: 2 } as const;
    expect(ask(wanted, movement)).toMatchObject({ held: true, value: 2, names: ['Card', 'Paid'] });
    expect(holds({ ...wanted, atLeast: 3 }, movement)).toBe(false);
    expect(holds({ ...wanted, certainty: 30, atLeast: 3 }, movement)).toBe(true);
  });

  it('asks for rights, one of them is enough', () => {
    const asks = used({ deed: 'connect', rights: ['read bookings', 'export all customers'] });
    expect(holds({ kind: 'rights', rights: ['*offline*', '*export*'] }, asks)).toBe(true);
    expect(holds({ kind: 'rights', rights: ['export'] }, asks)).toBe(false);
    expect(holds({ kind: 'rights', rights: ['*'] }, used())).toBe(false);
  });

  it('asks for the place, the proof and the age of a sign-in; a country nobody knows is elsewhere', () => {
    const wanted = {
      kind: 'sign-in',
      countries: ['no'],
      elsewhere: false,
      proofs: [],
      olderThanMinutes: null,
    } as const;
    const signed = (country?: string, minutesAgo = 0) =>
      used(
        {
          signIn: { at: SOME_TIME - minutesAgo * MINUTE, proof: 'password', ...(country ? { country } : {}) },
        },
        { at: SOME_TIME },
      );
    expect(holds(wanted, signed('NO'))).toBe(true);
    expect(holds(wanted, signed())).toBe(false);
    expect(holds({ ...wanted, elsewhere: true }, signed())).toBe(true);
    expect(holds({ ...wanted, elsewhere: true }, signed('NO'))).toBe(false);
    const old = { ...wanted, countries: [], olderThanMinutes: 60 };
    expect(holds(old, signed('NO', 60))).toBe(false);
    expect(holds(old, signed('NO', 61))).toBe(true);
    expect(holds({ ...old, olderThanMinutes: null, proofs: ['second-factor'] }, signed('NO'))).toBe(false);
  });
});

describe('sums over time', () => {
  const sum = { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_001, hours: 24 } as const;
  const past = (amount: number, usual?: number) => ({
    past: { [windowKey(sum)]: { amount }, [windowKey(usualRows)]: { amount, ...(usual ? { usual } : {}) } },
  });
  const usualRows = { ...sum, kind: 'usual', times: 10, atLeast: 500, hours: 1 } as const;

  it('adds this movement to what was counted: the sixth thousand is over five thousand', () => {
    expect(ask(sum, used({ rows: 1_000 }, past(4_000)))).toMatchObject({ held: false, value: 5_000 });
    expect(ask(sum, used({ rows: 1_000 }, past(5_000)))).toMatchObject({ held: true, value: 6_000 });
    expect(holds(sum, used({ rows: 5_001 }))).toBe(true);
  });

  it('adds nothing of a movement that stays inside where only what leaves is asked about', () => {
    const outside = { ...sum, of: 'movements', over: 'outside', atLeast: 1 } as const;
    expect(holds(outside, used())).toBe(false);
    expect(holds(outside, used({}, { recipients: [{ address: 'a@b.example', outside: true }] }))).toBe(true);
  });

  it('compares with what is usual, and asks for a least amount where nothing is', () => {
    expect(holds(usualRows, used({ rows: 499 }))).toBe(false);
    expect(holds(usualRows, used({ rows: 500 }))).toBe(true);
    expect(ask(usualRows, used({ rows: 900 }, past(0, 100)))).toMatchObject({ held: false, names: ['100'] });
    expect(holds(usualRows, used({ rows: 900 }, past(100, 100)))).toBe(true);
  });

  it('counts different values, those of the movement once however often they stand there', () => {
    const values = {
      kind: 'values',
      pattern: findingOf('1').pattern,
      certainty: 80,
      over: 'every-channel',
      atLeast: 4,
      hours: 48,
    } as const;
    const movement = mailOf([findingOf('1'), findingOf('1'), findingOf('2')], [], {
      past: { [windowKey(values)]: { amount: 1 } },
    });
    expect(ask(values, movement).value).toBe(1 + new Set(['1', '2']).size);
  });

  it('names each stretch once that rules ask about, in conditions, exceptions and what a policy shares', () => {
    const set = setOf([
      policyOf(
        'p',
        [ruleOf('a', { when: sum, unless: { kind: 'none', of: [sum] } }), ruleOf('b', { when: usualRows })],
        {
          shared: { kind: 'any', of: [{ ...sum, hours: 48 }] },
        },
      ),
    ]);
    expect(windowsAsked(set).map(({ key, usual }) => [key, usual])).toEqual([
      ['rows this-channel 48', false],
      ['rows this-channel 24', false],
      ['rows this-channel 1 usual', true],
    ]);
  });

  it('knows that more within the same stretch is as much, and says nothing of other stretches', () => {
    expect(implies({ ...sum, atLeast: 9_000 }, sum)).toBe(true);
    expect(implies(sum, { ...sum, atLeast: 9_000 })).toBe(false);
    expect(implies({ ...sum, hours: 48 }, sum)).toBe(false);
    expect(implies({ ...usualRows, times: 20 }, usualRows)).toBe(true);
  });
});

describe('who is asked who they are', () => {
  const treatment = { kind: 'ask-who', minutes: 15, trusts: 'everywhere' } as const;
  const verdictOf = (answer: 'note' | 'advise' | 'ask' | 'hold' | 'block') =>
    evaluate(
      setOf([
        policyOf(
          'p',
          [
            ruleOf('r', {
              when: { kind: 'rows', atLeast: 1 },
              bands: [bandOf(answer, { treatments: [treatment] })],
            }),
          ],
          {
            channels: ['business'],
          },
        ),
      ]),
      used({ rows: 9 }),
    );

  it.each(['note', 'advise', 'ask'] as const)('waits beside %s', (answer) =>
    expect(proofAsked(verdictOf(answer))).toEqual({ minutes: 15, trusts: 'everywhere' }),
  );

  it.each(['hold', 'block'] as const)('is outranked by %s', (answer) =>
    expect(proofAsked(verdictOf(answer))).toBeNull(),
  );

  it('takes the shortest trust in the narrowest place where several rules ask, and nothing from whoever is believed', () => {
    const asked = {
      answer: 'note',
      treatments: [treatment, { kind: 'ask-who', minutes: 60, trusts: 'same-application' }],
    } as const;
    expect(proofAsked(asked)).toEqual({ minutes: 15, trusts: 'same-application' });
    expect(proofAsked({ ...asked, believed: true })).toBeNull();
    expect(proofAsked({ ...asked, treatments: [] })).toBeNull();
  });

  it('believes by application, whatever its capitals, and by channel where there is none', () => {
    expect(trustPlace(used({}, { from: [{ kind: 'application', name: 'Ledger' }] }))).toBe(
      'application ledger',
    );
    expect(trustPlace(mailOf([], []))).toBe('channel mail');
  });
});
