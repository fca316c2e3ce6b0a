import { changesBetween, composed, differencesOf } from './difference.js';
import type { ItemKnown } from './item.js';

const cards = (count: number, certainty = 90) => [{ pattern: 'payment-card', count, certainty }];
const known = (other: Partial<ItemKnown> = {}): ItemKnown => ({
  ...{ state: 'read', found: cards(1), labelRank: null, digest: 'd', reach: 'few' },
  ...other,
});

it.each<[string, ItemKnown | null, ItemKnown | null, string[]]>([
  ['nothing', known(), known(), []],
  ['never there', null, null, []],
  ['a new item', null, known(), ['new']],
  ['one that came back', known({ state: 'gone' }), known(), ['new']],
  ['one that is gone', known(), known({ state: 'gone' }), ['gone']],
  ['more of the same', known(), known({ found: cards(40) }), ['holds-more']],
  ['less', known({ found: cards(40) }), known({ found: [] }), ['holds-less']],
  ['only doubtful findings more', known(), known({ found: [...cards(1), ...cards(900, 59)] }), []],
  [
    'a label and a link',
    known(),
    known({ labelRank: 2, reach: 'anybody-with-link' }),
    ['label-raised', 'spread-wider'],
  ],
  ['a label taken off', known({ labelRank: 0 }), known(), ['label-lowered']],
  ['locked now', known(), known({ state: 'unreadable', found: [] }), ['unreadable-now']],
  ['opened now', known({ state: 'unreadable', found: [] }), known(), ['readable-now']],
])('%s', (_name, before, after, expected) => expect(changesBetween(before, after)).toEqual(expected));

it('takes several runs as one', () => {
  const steps = [
    { id: 'a', before: null, after: known() },
    { id: 'b', before: known(), after: known({ found: cards(9) }) },
    { id: 'a', before: known(), after: known({ state: 'gone' }) },
    { id: 'b', before: known({ found: cards(9) }), after: known() },
  ];
  // Made and removed in between, and changed back: nothing differs.
  expect(differencesOf(composed(steps))).toEqual([]);
});

it('sees that an item moved, once for each, and what changed on the way', () => {
  const gone = known({ state: 'gone', digest: null });
  const steps = [
    { id: 'old/a', before: known({ digest: 'x' }), after: gone },
    { id: 'old/b', before: known({ digest: 'x' }), after: gone },
    { id: 'new/a', before: null, after: known({ digest: 'x', reach: 'outside' }) },
    { id: 'new/c', before: null, after: known({ digest: 'y' }) },
    { id: 'none', before: known({ digest: null }), after: gone },
    { id: 'new/none', before: null, after: known({ digest: null }) },
  ];
  expect(differencesOf(steps)).toEqual([
    { id: 'old/b', changes: ['gone'], from: null, sensitive: true },
    { id: 'new/a', changes: ['moved', 'spread-wider'], from: 'old/a', sensitive: true },
    { id: 'new/c', changes: ['new'], from: null, sensitive: true },
    { id: 'none', changes: ['gone'], from: null, sensitive: true },
    { id: 'new/none', changes: ['new'], from: null, sensitive: true },
  ]);
});
