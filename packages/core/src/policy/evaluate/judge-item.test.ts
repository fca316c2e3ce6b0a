import {
  automaticOf,
  cardsFound,
  chance,
  mailOf,
  policyOf,
  ruleOf,
  setOf,
  someMovement,
  someSet,
} from '@lantern/testkit';
import { type Effect, EFFECTS, type EffectTerms, OPEN_HANDLING } from '../../labels/handling.js';
import { NO_LABELS, type WholeLabelSet } from '../../labels/label-problems.js';
import type { Label } from '../../labels/label.js';
import type { LabelId } from '../../shared/brand.js';
import { compileItemJudge, judgeItem } from './judge-item.js';
import type { Handled } from '../../movement/handled.js';

const OWNER = 'owner@house.example';
const label = (id: string, terms: Partial<Record<Effect, EffectTerms>>): Label =>
  ({
    id: id as LabelId,
    name: id,
    rank: 100,
    retired: false,
    carriers: ['document', 'mail', 'chat'],
    handling: { ...OPEN_HANDLING, ...terms },
  }) as unknown as Label;
const quay = label('quay', { 'pass-on': { kind: 'inside' }, change: { kind: 'named', grants: [] } });
const labels: WholeLabelSet = { ...NO_LABELS, labels: [quay], automatic: [automaticOf('quay')] };
const open = setOf([policyOf('open', [ruleOf('note')])]);
const handled = (effects: readonly Effect[], over: Partial<Handled> = {}): Handled => ({
  effects,
  outside: false,
  items: [{ label: 'quay', item: 'plan.docx', owner: OWNER, since: 0, named: {} }],
  ...over,
});
const moved = (given: Handled) => mailOf([], ['x@elsewhere.example'], { handled: given });

describe('what labels forbid of a movement', () => {
  it.each<[string, Handled, string | null]>([
    ['what it grants', handled(['pass-on']), null],
    ['outside, what it grants inside', handled(['pass-on'], { outside: true }), 'outside'],
    ['what nobody is named for', handled(['change']), 'not-granted'],
    [
      'a label that nobody knows',
      handled(['change'], { items: [{ ...handled([]).items[0]!, label: 'gone' }] }),
      null,
    ],
    [
      'an item without an owner',
      handled(['change'], { items: [{ ...handled([]).items[0]!, owner: '' }] }),
      'not-granted',
    ],
  ])('%s', (_what, given, clause) => {
    const { verdict } = judgeItem({ labels, policies: open }, moved(given));
    expect(verdict.forbidden?.[0]?.clause.code ?? null).toBe(clause);
    expect(verdict.answer === 'block').toBe(clause !== null);
  });

  it('says each label and effect once, whatever number of items carries it', () => {
    const items = Array.from({ length: 5 }, () => handled([]).items[0]!);
    const { verdict } = judgeItem(
      { labels, policies: open },
      moved(handled(['change', 'pass-on'], { items, outside: true })),
    );
    expect(verdict.forbidden).toHaveLength(2);
  });

  it('blocks in place of the rule that decided', () =>
    expect(judgeItem({ labels, policies: open }, moved(handled(['change']))).verdict).toMatchObject({
      answer: 'block',
      decidedBy: null,
    }));
});

it('shows policies the label that a machine has just set', () => {
  const asks = policyOf('asks', [ruleOf('ask', { when: { kind: 'label', labels: ['quay'] } as never })]);
  const { label: set, movement } = judgeItem(
    { labels, policies: setOf([asks]) },
    mailOf(cardsFound(3), ['x@elsewhere.example']),
  );
  expect(set?.label.id).toBe('quay');
  expect(movement.labels?.map(({ id }) => id)).toContain('quay');
});

it('judges many as it judges one (random sets and movements, seed 17)', () => {
  const random = chance(17);
  const seen = new Set<string>();
  for (let round = 0; round < 400; round += 1) {
    const policies = someSet(random);
    const judge = compileItemJudge({ labels, policies });
    for (let each = 0; each < 3; each += 1) {
      const movement = {
        ...someMovement(random),
        ...(random.happens(0.4)
          ? { handled: handled([random.pick(EFFECTS)], { outside: random.happens(0.5) }) }
          : {}),
      };
      const { verdict } = judgeItem({ labels, policies }, movement);
      const quick = judge.judge(movement);
      expect([quick.answer, quick.decidedBy]).toEqual([verdict.answer, verdict.decidedBy]);
      seen.add(`${String(verdict.answer)} ${verdict.forbidden ? 'forbidden' : ''}`);
    }
  }
  expect(seen.size).toBeGreaterThan(4);
});
