import { automaticOf } from '@lantern/testkit';
import fc from 'fast-check';
import { EVERYBODY } from '../directory/audience.js';
import type { AutomaticId, LabelId, OfferId, PatternId } from '../shared/brand.js';
import type { Finding } from '../detection/model/finding.js';
import { type Automatic, isAtPlace, labelByRules, type LabelledItem } from './automatic.js';
import { colourFault, contrast } from './contrast.js';
import { EFFECTS, type Handler, type Handling, mayDo, OPEN_HANDLING } from './handling.js';
import {
  type LabelContext,
  type LabelProblemCode,
  labelProblems,
  NO_LABELS,
  type WholeLabelSet,
} from './label-problems.js';
import { highest, type Label, labelOfForeign, labelShift } from './label.js';
import { printedMarks } from './marking.js';
import { costOf, type Offer, offeredTo } from './offer.js';
import { printedHandling } from './printed-words.js';
import { changesForPeople, disagreements } from './standing.js';

const label = (over: Partial<Label> & { id?: LabelId } = {}): Label => ({
  id: 'quay' as LabelId,
  name: 'Quay',
  rank: 200,
  family: '',
  colour: '#225577',
  choosing: [{ language: 'en', when: 'For the whole company.', not: '' }],
  handling: { ...OPEN_HANDLING, 'pass-on': { kind: 'inside' } },
  markings: [{ place: 'top', text: '{label}', points: 9, colour: '#444444', slant: 0 }],
  carriers: ['document', 'mail'],
  foreign: [],
  retired: false,
  ...over,
});
const offer = (over: Partial<Offer> = {}): Offer => ({
  id: 'all' as OfferId,
  name: 'Everybody',
  people: EVERYBODY,
  carriers: ['document'],
  labels: ['quay' as LabelId],
  starts: { kind: 'bare' },
  needs: 'a-label',
  lowering: 'reason',
  follows: 'takes-highest',
  from: null,
  telling: 'Labels are here.',
  ...over,
});
const automatic = (over: Partial<Automatic> = {}): Automatic =>
  automaticOf('bridge', { id: 'cards' as AutomaticId, name: 'Cards', ...over });
const quay = label();
const bridge = label({ id: 'bridge' as LabelId, name: 'Bridge', rank: 700 });
const ashore = label({ id: 'ashore' as LabelId, name: 'Ashore', rank: 100 });

const person = (address: string, over: Partial<Handler> = {}): Handler => ({
  address,
  outside: false,
  ...over,
});
const DAY = 86_400_000;

describe('labelShift', () => {
  it.each([
    [null, null, 'same'],
    [null, quay, 'set'],
    [quay, null, 'removed'],
    [quay, quay, 'same'],
    [quay, bridge, 'raised'],
    [bridge, quay, 'lowered'],
    [quay, label({ id: 'twin' as LabelId }), 'lowered'],
  ] as const)('%# goes by rank', (before, after, shift) => {
    expect(labelShift(before, after)).toBe(shift);
  });
});

describe('highest', () => {
  it('is the most sensitive part, whatever the order', () => {
    expect(highest([quay, null, bridge, ashore])?.name).toBe('Bridge');
    expect(highest([null])).toBeNull();
  });
});

describe('mayDo', () => {
  const handling: Handling = {
    read: { kind: 'inside' },
    change: {
      kind: 'named',
      grants: [{ to: { with: [{ kind: 'group', group: 'Officers' }], without: [] }, days: null }],
    },
    'take-out': { kind: 'named', grants: [] },
    'make-another': { kind: 'setter' },
    'pass-on': {
      kind: 'named',
      grants: [
        { to: { with: [{ kind: 'department', department: 'Bridge' }], without: [] }, days: 3 },
        { to: { with: [{ kind: 'person', address: 'Anna@merrow.example' }], without: [] }, days: 10 },
      ],
    },
  };
  const item = {
    owner: 'owner@merrow.example',
    handling,
    since: 0,
    named: { 'make-another': ['bo@merrow.example'] },
  };

  it('leaves the owner everything, whatever the label says', () => {
    for (const effect of EFFECTS)
      expect(mayDo(effect, person('OWNER@merrow.example', { outside: true }), item, 99 * DAY)).toEqual({
        allowed: true,
        clause: { code: 'owner' },
      });
  });

  it('leaves everything open without a label', () => {
    expect(
      mayDo('pass-on', person('x@y.example', { outside: true }), { ...item, handling: null }, 0).allowed,
    ).toBe(true);
  });

  it.each([
    ['read', person('a@merrow.example'), 0, true, 'inside'],
    ['read', person('a@y.example', { outside: true }), 0, false, 'outside'],
    ['change', person('a@merrow.example', { groups: ['officers'] }), 0, true, 'granted'],
    ['change', person('a@merrow.example'), 0, false, 'not-granted'],
    ['take-out', person('a@merrow.example', { groups: ['Officers'] }), 0, false, 'not-granted'],
    ['make-another', person('Bo@merrow.example'), 0, true, 'named-by-setter'],
    ['make-another', person('a@merrow.example'), 0, false, 'not-named-by-setter'],
    ['change', person('a@y.example', { outside: true, groups: ['Officers'] }), 0, false, 'cannot-read'],
    ['pass-on', person('a@merrow.example', { department: 'Bridge' }), 3 * DAY - 1, true, 'granted'],
    ['pass-on', person('a@merrow.example', { department: 'Bridge' }), 3 * DAY, false, 'over'],
    ['pass-on', person('anna@merrow.example', { department: 'Bridge' }), 9 * DAY, true, 'granted'],
  ] as const)('%s by %j at %d', (effect, who, now, allowed, code) => {
    const leave = mayDo(effect, who, item, now);
    expect([leave.allowed, leave.clause.code]).toEqual([allowed, code]);
  });

  it('never allows more to somebody who cannot read', () => {
    const terms = fc.constantFrom<Handling['read']>(
      { kind: 'anyone' },
      { kind: 'inside' },
      { kind: 'setter' },
      { kind: 'named', grants: [] },
      { kind: 'named', grants: [{ to: EVERYBODY, days: 1 }] },
    );
    fc.assert(
      fc.property(
        fc.tuple(terms, terms, terms, terms, terms),
        fc.boolean(),
        fc.nat(3),
        (all, outside, days) => {
          const handling = Object.fromEntries(
            EFFECTS.map((effect, index) => [effect, all[index]]),
          ) as Handling;
          const asked = { owner: 'o@x.example', handling, since: 0, named: {} };
          const who = person('a@x.example', { outside });
          if (mayDo('read', who, asked, days * DAY).allowed) return;
          for (const effect of EFFECTS) expect(mayDo(effect, who, asked, days * DAY).allowed).toBe(false);
        },
      ),
    );
  });
});

describe('contrast', () => {
  // Ratios that WCAG 2.2 understanding documents and their techniques (G18, G17) work with; #767676 is the well-known
  // lightest grey that reaches 4.5 on white.
  it.each([
    ['#000000', '#ffffff', 21],
    ['#ffffff', '#ffffff', 1],
    ['#767676', '#ffffff', 4.54],
    ['#ff0000', '#ffffff', 4],
    ['#0000ff', '#ffffff', 8.59],
  ])('of %s on %s is %d', (one, other, ratio) => {
    expect(contrast(one, other)).toBeCloseTo(ratio, 1);
    expect(contrast(other, one)).toBe(contrast(one, other));
  });

  it.each([
    ['top', '#767676', 9, null],
    ['top', '#777777', 9, 'too-faint'],
    ['top', '#777777', 18, null],
    ['across', '#d9c7c7', 60, null],
    ['across', '#fafafa', 60, 'too-faint'],
    ['across', '#333333', 60, 'hides-text'],
    ['foot', 'red', 9, 'not-a-colour'],
  ] as const)('a line at %s in %s of %d points: %s', (place, colour, points, fault) => {
    expect(colourFault(place, colour, points)).toBe(fault);
  });
});

describe('printedMarks', () => {
  it('fills in every recorded fact and leaves a slip to be seen', () => {
    const text = '{family}/{label} {rank} {owner} {setter} {date} {how} {lable} {handling}';
    const marked = label({
      family: 'Ship',
      markings: [{ place: 'foot', text, points: 8, colour: '#000000', slant: 0 }],
    });
    const [mark] = printedMarks(marked, {
      owner: 'o@x',
      setter: 's@x',
      at: Date.UTC(2026, 1, 3),
      how: 'automatically',
    });
    expect(mark?.line).toBe(
      'Ship/Quay 200 o@x s@x 2026-02-03 automatically {lable} read, change, copy from, duplicate: anyone; pass on: inside only',
    );
  });

  it('says open handling in one word', () => {
    expect(printedHandling(OPEN_HANDLING)).toBe('open to anyone');
  });
});

describe('offeredTo', () => {
  const set = {
    labels: [quay, bridge, label({ id: 'old' as LabelId, name: 'Old', rank: 5, retired: true })],
    offers: [],
  };
  const first = offer({ labels: ['bridge', 'quay', 'old', 'gone'] as LabelId[] });

  it('gives labels in the order of the offer, none that is retired or gone', () => {
    const offered = offeredTo({ ...set, offers: [first] }, { address: 'a@x' }, 'document', 0);
    expect(offered?.labels.map(({ name }) => name)).toEqual(['Bridge', 'Quay']);
  });

  it('begins on its day, in UTC, and only for its carriers', () => {
    const later = { ...set, offers: [{ ...first, from: '2026-03-01' }] };
    expect(offeredTo(later, { address: 'a@x' }, 'document', Date.UTC(2026, 2, 1) - 1)).toBeNull();
    expect(offeredTo(later, { address: 'a@x' }, 'document', Date.UTC(2026, 2, 1))).not.toBeNull();
    expect(offeredTo(later, { address: 'a@x' }, 'chat', Date.UTC(2027, 2, 1))).toBeNull();
  });

  it('lets the first of two decide and names the other', () => {
    const second = offer({ id: 'second' as OfferId, lowering: 'second-person' });
    const offered = offeredTo({ ...set, offers: [first, second] }, { address: 'a@x' }, 'document', 0);
    expect([offered?.offer.id, offered?.others.map(({ id }) => id)]).toEqual(['all', ['second']]);
  });

  it('asks for the price of going down only', () => {
    expect(costOf(first, quay, bridge)).toBe('nothing');
    expect(costOf(first, bridge, quay)).toBe('reason');
    expect(costOf(first, bridge, null)).toBe('reason');
    expect(costOf(first, null, quay)).toBe('nothing');
  });
});

describe('disagreements', () => {
  const people = [{ address: 'a@x', groups: ['Crew'] }, { address: 'b@x' }];

  it('names who stands under two offers that say different things', () => {
    const crew = { with: [{ kind: 'group' as const, group: 'Crew' }], without: [] };
    const second = offer({ id: 'crew' as OfferId, people: crew, needs: 'nothing' });
    expect(disagreements([offer(), second], people)).toEqual([
      { carrier: 'document', first: 'all', second: 'crew', people: ['a@x'] },
    ]);
  });

  it('is silent where both say the same, in another order of labels', () => {
    const one = offer({ labels: ['quay', 'bridge'] as LabelId[] });
    const other = offer({ id: 'b' as OfferId, labels: ['bridge', 'quay'] as LabelId[] });
    expect(disagreements([one, other], people)).toEqual([]);
  });
});

describe('changesForPeople', () => {
  it('tells what comes, what goes and what is another price', () => {
    const before = { labels: [quay, bridge], offers: [offer()] };
    const after = {
      labels: [quay, bridge],
      offers: [offer({ labels: ['bridge'] as LabelId[], lowering: 'second-person' })],
    };
    expect(changesForPeople(before, after, [{ address: 'a@x' }], 0)).toMatchObject([
      { address: 'a@x', carrier: 'document', gains: ['Bridge'], loses: ['Quay'], otherTerms: true },
    ]);
    expect(changesForPeople(after, after, [{ address: 'a@x' }], 0)).toEqual([]);
  });
});

describe('labelByRules', () => {
  const card = (canonical: string, certainty = 95): Finding =>
    ({
      pattern: 'payment-card',
      start: 0,
      end: 1,
      certainty,
      evidence: [],
      canonical,
      rivals: [],
    }) as unknown as Finding;
  const item = (over: Partial<LabelledItem> = {}): LabelledItem => ({
    findings: [card('1'), card('2')],
    kind: 'office',
    place: 'Tariffs/2026',
    owner: 'ada@x.example',
    sharedOutside: false,
    carries: null,
    ...over,
  });
  const labels = [ashore, quay, bridge];
  const outcome = (rule: Automatic, given: LabelledItem): string =>
    labelByRules([rule], given, labels).outcome;

  it.each<[string, Partial<Automatic>, Partial<LabelledItem>, string]>([
    ['labels what is bare', {}, {}, 'labelled'],
    ['suggests where it may only suggest', { does: 'suggest' }, {}, 'suggested'],
    ['counts equal values once', {}, { findings: [card('1'), card('1')] }, 'nothing'],
    [
      'counts them all where asked',
      { content: [{ ...automatic().content[0]!, distinct: false }] },
      { findings: [card('1'), card('1')] },
      'labelled',
    ],
    ['wants certainty', {}, { findings: [card('1'), card('2', 79)] }, 'nothing'],
    ['looks at the kind', { kinds: ['pdf'] }, {}, 'nothing'],
    ['looks at the place', { places: ['Tariffs'] }, {}, 'labelled'],
    ['looks at whom it is shared with', { sharedWith: 'outside' }, {}, 'nothing'],
    ['finds what is shared', { sharedWith: 'outside' }, { sharedOutside: true }, 'labelled'],
    ['leaves what has it', {}, { carries: { label: bridge.id, how: 'by-hand' } }, 'has-it'],
    ['raises what is lower', {}, { carries: { label: quay.id, how: 'by-hand' } }, 'raised'],
    ['never lowers', { label: quay.id }, { carries: { label: bridge.id, how: 'by-hand' } }, 'already-higher'],
    [
      'lowers when told',
      { label: quay.id, lowersPeople: true },
      { carries: { label: bridge.id, how: 'by-hand' } },
      'lowered',
    ],
    [
      'leaves a label it does not know',
      {},
      { carries: { label: 'x' as LabelId, how: 'by-hand' } },
      'unknown-label',
    ],
    ['does not take a place that begins alike', { places: ['Tar'] }, {}, 'nothing'],
    ['takes every place of a person', { places: ['Ada@x.example'] }, {}, 'labelled'],
    ['takes no place of somebody else', { places: ['bo@x.example'] }, {}, 'nothing'],
  ])('%s', (_what, rule, given, expected) => {
    expect(outcome(automatic(rule), item(given))).toBe(expected);
  });

  it('lets the highest rank win and keeps the others as reason', () => {
    const low = automatic({ id: 'low' as AutomaticId, label: quay.id });
    const result = labelByRules([low, automatic()], item(), labels);
    expect([result.label, result.rule, result.outranked]).toEqual(['bridge', 'cards', ['low']]);
    expect(result.held).toEqual([{ pattern: 'payment-card', count: 2 }]);
  });

  it('takes no retired label', () => {
    expect(labelByRules([automatic()], item(), [quay, { ...bridge, retired: true }]).outcome).toBe('nothing');
  });

  it('knows what stands under a place', () => {
    expect(isAtPlace('Crew', ['Crew'])).toBe(true);
    expect(isAtPlace('Crew papers', ['Crew'])).toBe(false);
    expect(isAtPlace('anything', [])).toBe(true);
  });
});

describe('labelOfForeign', () => {
  it('maps names of other makers, capitals and blanks aside', () => {
    const mapped = label({ foreign: [{ field: 'Classification', value: 'Internal Use' }] });
    expect(labelOfForeign([quay, mapped], 'classification', ' internal use ')).toBe(mapped);
    expect(labelOfForeign([mapped], 'Classification', 'Public')).toBeNull();
  });
});

describe('labelProblems', () => {
  const context: LabelContext = {
    people: {
      addresses: new Set(['a@x.example']),
      groups: new Set(['Crew']),
      departments: new Set(),
      offices: new Set(),
    },
    patterns: new Set(['payment-card']),
    places: new Set(['Tariffs']),
  };
  const sound: WholeLabelSet = {
    labels: [quay, bridge],
    offers: [offer({ labels: [quay.id, bridge.id] })],
    automatic: [automatic()],
  };
  const codes = (set: WholeLabelSet): LabelProblemCode[] =>
    labelProblems(set, context).map(({ code }) => code);

  it('has nothing to say about a sound set', () => {
    expect(labelProblems(sound, context)).toEqual([]);
    expect(labelProblems(NO_LABELS, context)).toEqual([]);
  });

  it.each<[LabelProblemCode, Partial<Label>]>([
    ['no-name', { name: ' ' }],
    ['duplicate-name', { name: 'BRIDGE' }],
    ['rank-out-of-range', { rank: 0 }],
    ['equal-rank', { rank: 700 }],
    ['not-a-colour', { colour: 'blue' }],
    ['no-choosing-words', { choosing: [{ language: 'en', when: ' ', not: '' }] }],
    ['no-handling', { handling: OPEN_HANDLING }],
    ['no-marking', { markings: [] }],
    ['wider-than-read', { handling: { ...OPEN_HANDLING, read: { kind: 'inside' } } }],
    ['mark-without-text', { markings: [{ ...quay.markings[0]!, text: '' }] }],
    ['mark-too-long', { markings: [{ ...quay.markings[0]!, text: 'x'.repeat(201) }] }],
    ['mark-field-unknown', { markings: [{ ...quay.markings[0]!, text: '{lable}' }] }],
    ['mark-size-out-of-range', { markings: [{ ...quay.markings[0]!, points: 5 }] }],
    ['mark-slant-out-of-range', { markings: [{ ...quay.markings[0]!, slant: 80 }] }],
    ['mark-too-faint', { markings: [{ ...quay.markings[0]!, colour: '#dddddd' }] }],
    ['mark-hides-text', { markings: [{ ...quay.markings[0]!, place: 'across', colour: '#222222' }] }],
    [
      'days-out-of-range',
      { handling: { ...quay.handling, change: { kind: 'named', grants: [{ to: EVERYBODY, days: 0 }] } } },
    ],
    [
      'unknown-group',
      {
        handling: {
          ...quay.handling,
          change: {
            kind: 'named',
            grants: [{ to: { with: [{ kind: 'group', group: 'Nobody' }], without: [] }, days: 1 }],
          },
        },
      },
    ],
  ])('of a label: %s', (code, over) => {
    expect(new Set(codes({ ...sound, labels: [{ ...quay, ...over }, bridge] }))).toEqual(new Set([code]));
  });

  it('says of a label that stands on nothing where it is offered all the same', () => {
    expect(codes({ ...sound, labels: [{ ...quay, carriers: [] }, bridge] })).toEqual([
      'no-carrier',
      'not-on-carrier',
    ]);
  });

  it('marks both of two labels of one name or rank', () => {
    expect(codes({ ...sound, labels: [{ ...quay, rank: 700 }, bridge] })).toEqual([
      'equal-rank',
      'equal-rank',
    ]);
  });

  it.each<[LabelProblemCode, Partial<Offer>]>([
    ['unknown-person', { people: { with: [{ kind: 'person', address: 'gone@x.example' }], without: [] } }],
    ['no-carrier', { carriers: [] }],
    ['unknown-label', { labels: [quay.id, bridge.id, 'x' as LabelId] }],
    ['not-on-carrier', { carriers: ['chat'], labels: [quay.id, bridge.id] }],
    ['start-not-offered', { starts: { kind: 'proposed', label: 'x' as LabelId } }],
    ['preset-tempts', { starts: { kind: 'preset', label: quay.id } }],
    ['not-a-day', { from: '2026-02-30' }],
    ['told-nothing', { telling: '' }],
  ])('of an offer: %s', (code, over) => {
    expect(new Set(codes({ ...sound, offers: [offer({ labels: [quay.id, bridge.id], ...over })] }))).toEqual(
      new Set([code]),
    );
  });

  it('points out a finished label that is published to nobody', () => {
    expect(codes({ ...sound, offers: [offer()] })).toEqual(['published-to-nobody']);
  });

  it('does not let two labels claim one foreign name', () => {
    const foreign = [{ field: 'Class', value: 'A' }];
    expect(
      codes({
        ...sound,
        labels: [
          { ...quay, foreign },
          { ...bridge, foreign: [{ field: 'class', value: 'a ' }] },
        ],
      }),
    ).toEqual(['foreign-taken', 'foreign-taken']);
  });

  it.each<[LabelProblemCode, Partial<Automatic>]>([
    ['unknown-label', { label: 'x' as LabelId }],
    ['unknown-pattern', { content: [{ ...automatic().content[0]!, pattern: 'x' as PatternId }] }],
    ['count-out-of-range', { content: [{ ...automatic().content[0]!, atLeast: 0 }] }],
    ['certainty-out-of-range', { content: [{ ...automatic().content[0]!, certainty: 101 }] }],
    ['unknown-place', { places: ['Tarifs/2026'] }],
    ['unknown-person', { places: ['gone@x.example'] }],
    ['limit-out-of-range', { atMost: 0 }],
    ['no-condition', { content: [] }],
  ])('of an automatic rule: %s', (code, over) => {
    expect(codes({ ...sound, automatic: [automatic(over)] })).toEqual([code]);
  });
});
