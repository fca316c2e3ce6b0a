import type { ApplicationUse } from '@lantern/core/movement';
import type { Condition } from '@lantern/core/policy';
import { conditionWords, treatmentWords } from './sentence';
import { hoursWords, trustPlaceWords, usedWords } from './applications';

const names = new Map([['payment-card', 'Payment card number']]);

describe('conditions about applications and over time, as sentences', () => {
  it.each<[Condition, string]>([
    [{ kind: 'use', deeds: [], by: null, objects: [], reports: [] }, 'any activity in an application'],
    [
      {
        kind: 'use',
        deeds: ['export', 'read'],
        by: 'interface',
        objects: ['customers'],
        reports: ['*season'],
      },
      'records are exported or records are read over the programming interface of customers from *season',
    ],
    [{ kind: 'columns', atLeast: 20 }, 'each record has at least 20 fields'],
    [
      { kind: 'fields', pattern: 'payment-card', certainty: 80, atLeast: 1 },
      'at least one column holds Payment card number, certain to 80 or more',
    ],
    [
      { kind: 'fields', pattern: 'payment-card', certainty: 80, atLeast: 3 },
      'at least 3 columns hold Payment card number, certain to 80 or more',
    ],
    [{ kind: 'rights', rights: ['*all*', '*export*'] }, 'the application asks for *all* or *export*'],
    [
      {
        kind: 'sign-in',
        countries: ['NO', 'DE', 'DK'],
        elsewhere: true,
        proofs: ['password'],
        olderThanMinutes: 60,
      },
      'the sign-in was not from NO, DE or DK and with a password and more than 60 minutes ago',
    ],
    [
      { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_001, hours: 24 },
      'the sender moved at least 5001 records on this channel within 24 hours, including this one',
    ],
    [
      { kind: 'values', pattern: 'payment-card', certainty: 80, over: 'outside', atLeast: 40, hours: 168 },
      'the sender moved at least 40 different values of Payment card number to outside within 7 days, including this one',
    ],
    [
      { kind: 'usual', of: 'kilobytes', over: 'every-channel', times: 10, atLeast: 500, hours: 1 },
      'the sender moved 10 times their usual kilobytes on all channels together within an hour, including this one, and at least 500',
    ],
  ])('%j', (condition, words) => expect(conditionWords(condition, names)).toBe(words));

  it('says how somebody is asked who they are', () => {
    expect(treatmentWords({ kind: 'ask-who', minutes: 0, trusts: 'everywhere' }, names)).toBe(
      'require the second factor, each time',
    );
    expect(treatmentWords({ kind: 'ask-who', minutes: 15, trusts: 'same-application' }, names)).toBe(
      'require the second factor, then not again for 15 minutes in the same application',
    );
  });

  it('says hours as people do', () =>
    expect([1, 24, 36, 48, 744].map(hoursWords)).toEqual([
      'an hour',
      '24 hours',
      '36 hours',
      '2 days',
      '31 days',
    ]));

  it('names where somebody is believed', () => {
    expect(trustPlaceWords('everywhere')).toBe('everywhere');
    expect(trustPlaceWords('application booking and freight ledger')).toBe(
      'in the application "booking and freight ledger"',
    );
    expect(trustPlaceWords('channel mail')).toBe('on the channel mail');
  });
});

describe('what was done, for whoever reads the incident', () => {
  const use: ApplicationUse = { deed: 'export', by: 'screen', objects: ['bookings', 'customers'] };

  it.each<[ApplicationUse, string]>([
    [
      { ...use, report: 'Bookings of the season', rows: 25_000, columns: ['a', 'b'] },
      'They exported 25,000 records of bookings and customers from "Bookings of the season" with 2 fields, on the screen.',
    ],
    [
      {
        deed: 'read',
        by: 'interface',
        objects: ['claims'],
        rows: 1,
        columns: ['a'],
        signIn: { at: 0, proof: 'key' },
      },
      'They read 1 record of claims with 1 field, over the programming interface. The sign-in was with a program key.',
    ],
    [
      { deed: 'sign-in', by: 'screen', objects: [], signIn: { at: 0, proof: 'password', country: 'SG' } },
      'They signed in, on the screen. The sign-in was with a password, from SG.',
    ],
    [
      { deed: 'connect', by: 'screen', objects: [], rights: ['read sailings'] },
      'They connected another application that asks to read sailings, on the screen.',
    ],
    [
      { deed: 'answer', by: 'screen', objects: [], report: 'Fares and times' },
      'They got an answer from the assistant "Fares and times", on the screen.',
    ],
    [
      { deed: 'export', by: 'interface', objects: ['bookings'], rows: 500, before: 4_500 },
      'They exported 500 records (after 4,500 others) of bookings, over the programming interface.',
    ],
  ])('%j', (given, words) => expect(usedWords(given)).toBe(words));
});
