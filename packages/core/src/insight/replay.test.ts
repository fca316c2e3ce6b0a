import { chance, someMovement, someSet } from '@lantern/testkit';
import { evaluate } from '../policy/evaluate/evaluate.js';
import { compilePolicies } from '../policy/evaluate/judge.js';
import type { Answer } from '../policy/model/answers.js';
import { decidedOf, MAX_SHIFTED_ITEMS, type Rejudged, ReplayTally, shiftOf } from './replay.js';

const judged = (answer: Answer | null) => ({ answer, rule: answer && `rule-${answer}` });
const item = (
  id: string,
  before: Answer | null,
  after: Answer | null,
  over: Partial<Rejudged> = {},
): Rejudged => ({
  id,
  channel: 'mail',
  department: 'Fleet',
  person: 'a',
  day: '2026-03-04',
  outcome: null,
  before: judged(before),
  after: judged(after),
  ...over,
});
const tallied = (...items: Rejudged[]) => {
  const tally = new ReplayTally();
  for (const each of items) tally.add(each);
  return tally.difference();
};

describe('shiftOf', () => {
  it.each<[Answer | null, Answer | null, string]>([
    [null, null, 'same'],
    [null, 'note', 'otherwise-answered'],
    [null, 'ask', 'newly-stopped'],
    ['advise', 'hold', 'newly-stopped'],
    ['ask', 'block', 'otherwise-answered'],
    ['block', 'note', 'newly-let-through'],
    ['ask', null, 'newly-let-through'],
    ['block', 'block', 'same'],
  ])('%s to %s is %s', (before, after, shift) => expect(shiftOf(before, after)).toBe(shift));
});

describe('ReplayTally', () => {
  it('counts shifts by channel, department and deciding rule, and lists the items', () => {
    const difference = tallied(
      item('1', 'note', 'block'),
      item('2', 'block', null, { department: 'Crewing', channel: 'chat' }),
      item('3', 'note', 'note'),
    );
    expect(difference).toMatchObject({
      judged: 3,
      shifts: { 'newly-stopped': 1, 'newly-let-through': 1, 'otherwise-answered': 0, same: 1 },
      byChannel: { mail: { 'newly-stopped': 1 }, chat: { 'newly-let-through': 1 } },
      byDepartment: { Crewing: { 'newly-let-through': 1 } },
      byRule: { 'rule-block': { 'newly-stopped': 1, 'newly-let-through': 1 }, 'rule-note': { same: 1 } },
    });
    expect(difference.items.map(({ id, shift }) => [id, shift])).toEqual([
      ['1', 'newly-stopped'],
      ['2', 'newly-let-through'],
    ]);
  });

  it('counts each person once a day who is spoken to', () => {
    const { interrupted } = tallied(
      item('1', 'note', 'ask'),
      item('2', 'note', 'ask'),
      item('3', 'note', 'ask', { person: 'b' }),
      item('4', 'advise', null, { day: '2026-03-05' }),
    );
    expect(interrupted).toEqual({ before: 0.5, after: 1, days: 2 });
  });

  it('holds known outcomes against the draft', () => {
    const { falsePositives, harm } = tallied(
      item('1', 'block', null, { outcome: 'false-positive' }),
      item('2', 'block', 'note', { outcome: 'false-positive' }),
      item('3', 'block', null, { outcome: 'harm' }),
      item('4', 'block', 'ask', { outcome: 'harm' }),
      item('5', 'block', null, { outcome: 'allowed' }),
    );
    expect({ falsePositives, harm }).toEqual({
      falsePositives: { gone: 1, kept: 1 },
      harm: { missed: 1, named: 1 },
    });
  });

  it('has figures for nothing at all', () =>
    expect(tallied()).toMatchObject({ judged: 0, interrupted: { before: 0, after: 0, days: 0 }, items: [] }));

  it('lists no more than it says, and counts the rest', () => {
    const many = Array.from({ length: MAX_SHIFTED_ITEMS + 3 }, (_each, index) =>
      item(String(index), null, 'note'),
    );
    const { items, itemsLeftOut, shifts } = tallied(...many);
    expect([items.length, itemsLeftOut, shifts['otherwise-answered']]).toEqual([
      MAX_SHIFTED_ITEMS,
      3,
      MAX_SHIFTED_ITEMS + 3,
    ]);
  });

  it('adds up to what one-by-one evaluation gives (seed 77)', () => {
    const random = chance(77);
    const [published, draft] = [someSet(random), someSet(random)];
    const [before, after] = [compilePolicies(published), compilePolicies(draft)];
    const movements = Array.from({ length: 500 }, () => someMovement(random));
    const tally = new ReplayTally();
    const plain = { 'newly-stopped': 0, 'newly-let-through': 0, 'otherwise-answered': 0, same: 0 };
    movements.forEach((movement, index) => {
      tally.add(
        item(String(index), null, null, {
          before: decidedOf(before.judge(movement)),
          after: decidedOf(after.judge(movement)),
        }),
      );
      plain[shiftOf(evaluate(published, movement).answer, evaluate(draft, movement).answer)] += 1;
    });
    expect(tally.difference().shifts).toEqual(plain);
  });
});
