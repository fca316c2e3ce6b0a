import { type Evidence, type EvidenceCode } from '@lantern/core/detection';
import { type DeskAct } from '@lantern/core/incidents';
import { type Condition, PROBLEM_CODES, type Rule, type TextId } from '@lantern/core/policy';
import { bandOf, findingsAsked, ruleOf, SOME_TEXT } from '@lantern/testkit';
import { ERROR_CODES } from '@lantern/contracts';
import { errorSentence } from './errors';
import { evidenceWords, weightWords } from './evidence';
import { actWords, historyWords, incidentTitle, shortName } from './incidents';
import { problemSentence } from './problems';
import { conditionWords, ruleSentence } from './sentence';
import { ago, exactTime, shortTime } from './times';

const names = new Map([
  ['payment-card', 'Payment card number'],
  ['iban', 'International bank account number (IBAN)'],
]);

describe('errorSentence', () => {
  it.each(ERROR_CODES)('has words for %s', (code) => {
    const sentence = errorSentence({
      body: { code, message: 'The server says so.', details: { limit: 25, recipients: 5000, address: 'x' } },
    });
    expect(sentence).toMatch(/^[A-Z"].+[.!]$/);
    expect(sentence).not.toContain('undefined');
  });

  it('says the numbers that matter', () => {
    const details = { recipients: 5000, limit: 1000 };
    expect(errorSentence({ body: { code: 'too-many-recipients', message: '', details } })).toContain(
      '5000 recipients; one mail takes 1000',
    );
  });

  it.each([[new Error('x')], ['text'], [null], [undefined]])('has words for %p too', (error) => {
    expect(errorSentence(error)).toContain('What was saved is safe');
  });
});

describe('evidenceWords', () => {
  const CODES: EvidenceCode[] = [
    'shape',
    'structure',
    'check-digits',
    'grouping',
    'supporting-word',
    'counter-word',
    'column-heading',
    'neighbours',
    'test-value',
    'inside-longer-code',
    'listed-word',
  ];

  it.each(CODES)('says something of its own for %s', (code) => {
    const words = evidenceWords({ code, weight: 1, detail: 'Luhn' });
    expect(words.length).toBeGreaterThan(8);
    expect(
      CODES.filter((other) => evidenceWords({ code: other, weight: 1, detail: 'Luhn' }) === words),
    ).toEqual([code]);
  });

  it.each<[Evidence, string]>([
    [{ code: 'supporting-word', weight: 4, detail: 'card', distance: 1 }, 'related word "card" is near'],
    [
      { code: 'supporting-word', weight: 2, detail: 'card', distance: 40 },
      'related word "card" is near, 40 characters off',
    ],
    [{ code: 'neighbours', weight: 1.7, detail: '30' }, '30 neighbours of the same format'],
    [{ code: 'neighbours', weight: -3, detail: '30' }, 'most of 30 neighbours fail the check'],
  ])('words %j', (evidence, words) => expect(evidenceWords(evidence)).toBe(words));

  it.each([
    [2.302, '+2.3'],
    [0, '+0.0'],
    [-4.4, '−4.4'],
  ])('weighs %d as %s', (weight, words) => expect(weightWords(weight)).toBe(words));
});

describe('problemSentence', () => {
  it.each(PROBLEM_CODES)('says for %s what is wrong, as a whole sentence', (code) => {
    const sentence = problemSentence({ code, path: [], value: '140' });
    expect(sentence).toMatch(/\.$/);
    expect(
      PROBLEM_CODES.filter((other) => problemSentence({ code: other, path: [], value: '140' }) === sentence),
    ).toEqual([code]);
  });

  it('names the impossible certainty', () => {
    expect(problemSentence({ code: 'certainty-out-of-range', path: [], value: '140' })).toContain(
      'must be from 0 to 100, not 140',
    );
  });
});

describe('incidents in words', () => {
  const count = (pattern: string) => ({ pattern, findings: 3, distinct: 2, certainty: 90 });

  it.each([
    [
      'what was found and where it went',
      { counts: [count('iban')], unreadableParts: 0, destinations: ['a.example'] },
      'International bank account number to a.example',
    ],
    [
      'that there is more',
      { counts: [count('payment-card'), count('iban')], unreadableParts: 0, destinations: [] },
      'Payment card number and 1 more',
    ],
    [
      'that something could not be read',
      { counts: [], unreadableParts: 2, destinations: ['a.example'] },
      'Unreadable content to a.example',
    ],
    [
      'that a rule held',
      { counts: [], unreadableParts: 0, destinations: ['a.example'] },
      'Rule matched to a.example',
    ],
    [
      'what another system says',
      { counts: [], unreadableParts: 0, destinations: [], origin: 'Harbour Watch', title: 'Open bucket' },
      'Open bucket',
    ],
    [
      'a pattern that was removed',
      { counts: [count('x')], unreadableParts: 0, destinations: [] },
      'A pattern that was removed',
    ],
  ])('say %s', (_name, row, title) => expect(incidentTitle(row, names)).toBe(title));

  it('drop the brackets of a long name', () => {
    expect(shortName('Passport machine-readable lines (TD3)')).toBe('Passport machine-readable lines');
    expect(shortName('Plain')).toBe('Plain');
  });

  const ACTS: DeskAct[] = [
    { act: 'answer-looked-for', yes: true },
    { act: 'answer-looked-for', yes: false },
    { act: 'answer-all-right', yes: true },
    { act: 'answer-all-right', yes: false },
    { act: 'name-cause', cause: 'slip' },
    { act: 'take' },
    { act: 'wait' },
    { act: 'reopen' },
    { act: 'assign', to: null },
    { act: 'assign', to: 'Ada' },
    { act: 'set-severity', severity: 'low' },
    { act: 'mark-test', yes: true },
    { act: 'mark-test', yes: false },
  ];

  it('tell every act apart', () => expect(new Set(ACTS.map(actWords)).size).toBe(ACTS.length));

  it.each([
    [{ kind: 'note', text: 'Called her.', act: null }, 'Note: Called her.'],
    [{ kind: 'unmasked', text: 'asked for', act: null }, 'Values shown. Reason: asked for'],
    [{ kind: 'unmasked', text: 'Pictures shown: asked for', act: null }, 'Pictures shown. Reason: asked for'],
    [{ kind: 'recorded', text: null, act: null }, 'Recorded'],
    [{ kind: 'act', text: null, act: { act: 'take' } }, 'Taken'],
  ] as const)('tell %j', (entry, words) =>
    expect(historyWords({ at: '', by: 'x', bulk: null, ...entry })).toBe(words),
  );
});

describe('sentences', () => {
  it.each<[Condition, string]>([
    [{ kind: 'recipient', quantity: 'every', side: 'inside' }, 'all recipients are inside'],
    [{ kind: 'domain', quantity: 'any', domains: [] }, 'any recipient is at no domain yet'],
    [{ kind: 'unreadable', reasons: [] }, 'a part cannot be read'],
  ])('word %j', (condition, words) => expect(conditionWords(condition, names)).toBe(words));

  it('differ when any part of a rule differs, so that a review shows every change', () => {
    const when = findingsAsked(3, { pattern: 'iban' });
    const rule = ruleOf('r', { when });
    const more = { with: [{ kind: 'group' as const, group: 'Leads' }], without: [] };
    const { kind: _kind, atLeast: _atLeast, ...measure } = when;
    const changes: Partial<Rule>[] = [
      { when: { ...when, atLeast: 4 } },
      { when: { ...when, distinct: false } },
      { when: { ...when, certainty: 81 } },
      { when: { ...when, pattern: 'payment-card' } },
      { when: { ...when, where: ['body'] } },
      { unless: { kind: 'unreadable', reasons: [] } },
      { bands: [bandOf('note')] },
      { bands: [bandOf('block', { severity: 'low' })] },
      { bands: [bandOf('block', { text: 'other' as TextId })] },
      { bands: [bandOf('block', { treatments: [{ kind: 'no-passing-on' }] })] },
      { measure },
      { measure, bands: [bandOf('block', { from: 2 })] },
      { people: more },
      { override: { mayAsk: more, decides: 'approvers' } },
      { override: { mayAsk: more, decides: 'authors' } },
      { keep: 'counts' },
      { tell: [{ address: 'a@b.example', when: 'daily' }] },
      { silence: { until: '2027-01-01', why: '' } },
      { bindsFrom: '2027-01-01' },
      { endsPolicy: true },
    ];
    const sentences = [rule, ...changes.map((change) => ({ ...rule, ...change }))].map((each) =>
      ruleSentence(each, new Map([...names, [SOME_TEXT.id, 'Use the portal']])),
    );
    expect(new Set(sentences).size).toBe(sentences.length);
  });
});

describe('times', () => {
  const now = new Date(2026, 10, 23, 15, 0, 0);

  it.each([
    [new Date(2026, 10, 23, 9, 42), '09:42'],
    [new Date(2026, 10, 22, 9, 42), '22 Nov 09:42'],
    [new Date(2025, 10, 22, 9, 42), '22 Nov 2025'],
  ])('are as short as their distance allows', (at, words) =>
    expect(shortTime(at.toISOString(), now)).toBe(words),
  );

  it('have their exact instant and their distance at hand', () => {
    const iso = '2026-11-23T09:42:17.123Z';
    expect(exactTime(iso)).toContain(iso);
    expect(ago(new Date(now.getTime() - 7_200_000).toISOString(), now)).toBe('2 hours ago');
  });
});
