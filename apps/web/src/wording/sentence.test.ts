import type { Condition, SpotGroupId, Treatment } from '@lantern/core/policy';
import {
  bandOf,
  chance,
  findingsAsked,
  policyOf,
  ruleOf,
  SOME_TEXT,
  someCondition,
  TO_OUTSIDE,
} from '@lantern/testkit';
import {
  conditionWords,
  policySentences,
  rangeWords,
  ruleSentence,
  treatmentWords,
  whereaboutsWords,
} from './sentence';
import { audienceWords } from './audience';
import { spanWords } from './times';

const names = new Map<string, string>([
  ['payment-card', 'Payment card number'],
  [SOME_TEXT.id, 'Use the portal'],
]);
const cards = findingsAsked(25);
const rule = ruleOf('r', { when: { kind: 'all', of: [cards, TO_OUTSIDE] } });
const fleet = { with: [{ kind: 'department', department: 'Fleet' } as const], without: [] };

describe('ruleSentence', () => {
  it('reads as one sentence', () => {
    expect(ruleSentence(rule, names)).toBe(
      'When it contains at least 25 distinct values of Payment card number, certain to 80 or more and any recipient is outside, then block, tell the sender "Use the portal", severity high.',
    );
  });

  it('says the exception, the silence of a note and the end of its policy', () => {
    const quiet = ruleOf('r', {
      answer: 'note',
      unless: { kind: 'domain', quantity: 'every', domains: ['a.example', 'b.example'] },
      endsPolicy: true,
    });
    expect(ruleSentence(quiet, names)).toContain(
      'unless all recipients are at a.example or b.example, then note, severity high; later rules of this policy are skipped.',
    );
  });

  it.each([
    [{ minutes: 480, next: null, otherwise: 'stays' }, 'decision within 8 hours, otherwise it is taken back'],
    [
      { minutes: 60, next: 'authors', otherwise: 'goes-on', approvers: 2 },
      'two people decide within an hour, then authors within an hour, otherwise it goes on',
    ],
  ] as const)('says by when a hold is decided: %j', (hold, words) => {
    expect(ruleSentence(ruleOf('r', { answer: 'hold', hold }), names)).toContain(`; ${words}.`);
    // A rule that holds nothing says nothing about it.
    expect(ruleSentence(ruleOf('r', { answer: 'block', hold }), names)).not.toContain(words);
  });

  it('says that an override takes two', () => {
    const override = { mayAsk: fleet, decides: 'authors', approvers: 2 } as const;
    expect(ruleSentence(ruleOf('r', { answer: 'block', override }), names)).toContain(
      '; Fleet may request an override from two authors.',
    );
  });

  it('says bands, what is asked, and who may ask whom', () => {
    const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
    const graded = ruleOf('r', {
      when: TO_OUTSIDE,
      measure,
      bands: [
        bandOf('ask', { to: 24 }),
        bandOf('block', { from: 25, treatments: [{ kind: 'no-passing-on' }] }),
      ],
      ask: { reasons: [], minutes: 240, otherwise: 'stays' },
      override: { mayAsk: fleet, decides: 'approvers' },
      people: fleet,
    });
    expect(ruleSentence(graded, names)).toBe(
      'For Fleet: when any recipient is outside, then by the number of distinct values of Payment card number, certain to 80 or more: 1 to 24: ask, tell the sender "Use the portal", severity high; 25 and more: block, tell the sender "Use the portal", prevent forwarding, severity high; a reply within 4 hours, otherwise it stays; Fleet may request an override from approvers.',
    );
  });
});

describe('conditionWords', () => {
  it.each<[Condition, string]>([
    [
      findingsAsked(25, { pattern: 'x', distinct: false }),
      'it contains at least 25 findings of a pattern that was removed, certain to 80 or more',
    ],
    [
      {
        kind: 'any',
        of: [findingsAsked(1, { where: ['subject'] }), { kind: 'unreadable', reasons: ['encrypted'] }],
      },
      'it contains at least 1 distinct value of Payment card number in the subject, certain to 80 or more or a part cannot be read because it is locked',
    ],
    [{ kind: 'none', of: [TO_OUTSIDE] }, 'none of these: any recipient is outside'],
    [{ kind: 'all', of: [] }, 'nothing yet'],
    [
      { kind: 'file', kinds: ['archive'], names: ['*.pdf'], atLeastKilobytes: 2_048, misnamed: true },
      'a file comes along that is an archive and is called *.pdf and is 2 MB or larger and has a name that does not match its content',
    ],
    [
      { kind: 'time', from: '22:00', to: '06:00', days: [5, 6], zone: 'Europe/Oslo' },
      'it is sent between 22:00 and 06:00 on Fri, Sat (Europe/Oslo)',
    ],
    [
      { kind: 'rate', of: 'outside', atLeast: 20, minutes: 60 },
      'the sender sends outside at least 20 times within an hour',
    ],
    [
      { kind: 'tries', atLeast: 1, minutes: 30 },
      'the same content was stopped at least once within 30 minutes before',
    ],
  ])('words %j', (condition, words) => expect(conditionWords(condition, names)).toBe(words));

  it('names many patterns that are looked for in the same way once', () => {
    const of = ['payment-card', 'iban', 'x'].map((pattern) => findingsAsked(5, { pattern }));
    expect(conditionWords({ kind: 'any', of }, new Map([...names, ['iban', 'IBAN']]))).toBe(
      'it contains at least 5 distinct values of any of Payment card number, IBAN, a pattern that was removed, certain to 80 or more',
    );
    const other = [...of, findingsAsked(6)];
    expect(conditionWords({ kind: 'any', of: other }, names)).toContain(' or it contains at least 6');
  });

  it('has words for every condition there is (seed 5)', () => {
    const random = chance(5);
    for (let index = 0; index < 300; index += 1)
      expect(conditionWords(someCondition(random, 2), names)).not.toMatch(/undefined|\[object|^$/);
  });
});

describe('other words', () => {
  it('names people with those left out', () => {
    expect(audienceWords({ with: [], without: [{ kind: 'group', group: 'Leads' }] })).toBe(
      'everybody, but not the group Leads',
    );
  });

  it.each([
    [{ from: 1, to: 4 }, '1 to 4'],
    [{ from: 25, to: null }, '25 and more'],
    [{ from: 7, to: 7 }, '7'],
  ])('reads the range %j', (band, words) => expect(rangeWords(band)).toBe(words));

  it.each([
    [1, 'a minute'],
    [90, '90 minutes'],
    [1_440, 'a day'],
    [2_880, '2 days'],
  ])('says %i minutes', (minutes, words) => expect(spanWords(minutes)).toBe(words));

  it('frames a policy by people, shared condition and ceilings', () => {
    const policy = policyOf('p', [], {
      shared: TO_OUTSIDE,
      ceilings: [
        { people: fleet, answer: 'as-written', until: '2027-01-31' },
        { people: { with: [], without: [] }, answer: 'note', until: null },
      ],
    });
    expect(policySentences(policy, names)).toEqual([
      'For everybody, on mail.',
      'Every rule applies only when any recipient is outside.',
      'For Fleet: as written until 2027-01-31.',
      'For everybody: note at most.',
      'Owner: Data care desk.',
    ]);
  });
});

describe('the way of a movement, and what is done beside the answer', () => {
  const named = new Map([
    ['s1', 'Assistants'],
    ['l1', 'Bridge only'],
  ]);

  it.each<[Condition, string]>([
    [
      { kind: 'taken-from', spots: [{ kind: 'application', name: 'Booking system' }] },
      'it is taken from the application Booking system',
    ],
    [
      {
        kind: 'put-into',
        spots: [
          { kind: 'spots', called: 's1' as SpotGroupId },
          { kind: 'host', host: 'up.example', under: true },
          { kind: 'device', device: 'plugged-in', name: '', trusted: false },
        ],
      },
      'it is put into "Assistants" or up.example and all below it or an untrusted removable drive',
    ],
    [{ kind: 'link', links: [] }, 'a link is made'],
    [{ kind: 'link', links: ['whoever-holds-it'] }, 'a link is made for whoever holds it'],
    [{ kind: 'connection', states: ['readable'] }, 'the connection is unencrypted'],
    [{ kind: 'machine', states: [] }, 'the machine is nothing yet'],
    [{ kind: 'network', states: ['foreign', 'not-known'] }, 'the network is untrusted or not known'],
    [{ kind: 'rows', atLeast: 1 }, 'it has at least 1 row'],
  ])('%j', (condition, words) => expect(conditionWords(condition, named)).toBe(words));

  it.each<[Treatment, string]>([
    [{ kind: 'set-label', label: 'l1' }, 'set the label "Bridge only"'],
    [{ kind: 'set-label', label: 'gone' }, 'set the label "that is gone"'],
    [{ kind: 'end-access', days: 1 }, 'let access end after 1 day'],
    [{ kind: 'encrypt-content' }, 'only encrypted for its receiver'],
    [
      { kind: 'lower-handling', effects: ['make-another'], people: { with: [], without: [] } },
      'let everybody no longer make copies',
    ],
  ])('%j', (treatment, words) => expect(treatmentWords(treatment, named)).toBe(words));

  it('says where a policy is for', () =>
    expect(
      whereaboutsWords({
        with: [{ kind: 'machines', group: 'Desks' }],
        without: [{ kind: 'place', path: '/Crew' }],
      }),
    ).toBe('machines of Desks, but not the place /Crew'));
});
