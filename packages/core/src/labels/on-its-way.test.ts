import { automaticOf } from '@lantern/testkit';
import type { Finding } from '../detection/model/finding.js';
import type { LabelId, PatternId } from '../shared/brand.js';
import type { Automatic } from './automatic.js';
import { NO_LABELS, type WholeLabelSet } from './label-problems.js';
import type { Carrier, Label } from './label.js';
import { type ItemOnItsWay, labelAfter, labelOnItsWay, suggestedLabel } from './on-its-way.js';

const label = (id: string, rank: number, carriers: readonly Carrier[]): Label =>
  ({ id: id as LabelId, name: id, rank, carriers, retired: false }) as Label;
const quay = label('quay', 100, ['mail', 'chat', 'document']);
const bridge = label('bridge', 300, ['mail', 'document']);
const hold = label('hold', 500, ['document']);

const rule = (to: Label, over: Partial<Automatic> = {}): Automatic =>
  automaticOf(to.id, {
    content: [{ pattern: 'iban' as PatternId, distinct: true, certainty: 80, atLeast: 1 }],
    ...over,
  });
const set = (...automatic: readonly Automatic[]): WholeLabelSet => ({
  ...NO_LABELS,
  labels: [quay, bridge, hold],
  automatic,
});
const item = (over: Partial<ItemOnItsWay> = {}): ItemOnItsWay => ({
  carrier: 'mail',
  own: null,
  findings: [{ pattern: 'iban', certainty: 95, canonical: 'DE00', evidence: [] } as unknown as Finding],
  kind: 'text',
  place: '',
  owner: 'ada@house.example',
  sharedOutside: false,
  ...over,
});
const chosen = (by: Label) => ({ label: by, how: 'by-hand' as const });

describe('the label with which an item goes on', () => {
  it.each<[string, readonly Automatic[], Partial<ItemOnItsWay>, string | null, string | null]>([
    ['is the one a rule sets', [rule(bridge)], {}, 'bridge', 'automatically'],
    [
      'is the one a person chose, where no rule holds',
      [rule(bridge)],
      { own: chosen(quay), findings: [] },
      'quay',
      'by-hand',
    ],
    ['is raised over what a person chose', [rule(bridge)], { own: chosen(quay) }, 'bridge', 'automatically'],
    ['is never lowered under it', [rule(quay)], { own: chosen(bridge) }, 'bridge', 'by-hand'],
    [
      'stays as it was set where it is the same',
      [rule(bridge)],
      { own: chosen(bridge) },
      'bridge',
      'by-hand',
    ],
    ['is none that cannot stand there', [rule(hold)], {}, null, null],
    ['is the next one that can', [rule(hold), rule(bridge)], {}, 'bridge', 'automatically'],
    ['is none that is only suggested', [rule(bridge, { does: 'suggest' })], {}, null, null],
    [
      'is not kept back by a higher one that is only suggested',
      [rule(bridge, { does: 'suggest' }), rule(quay)],
      {},
      'quay',
      'automatically',
    ],
    [
      'waits for somebody outside where the rule does',
      [rule(bridge, { sharedWith: 'outside' })],
      {},
      null,
      null,
    ],
    [
      'is set as soon as somebody outside gets it',
      [rule(bridge, { sharedWith: 'outside' })],
      { sharedOutside: true },
      'bridge',
      'automatically',
    ],
  ])('%s', (_what, rules, over, id, how) => {
    const standing = labelOnItsWay(set(...rules), item(over));
    expect(standing?.label.id ?? null).toBe(id);
    expect(standing?.how ?? null).toBe(how);
  });

  it('names the rule by which a machine set it, and none for a choice', () => {
    expect(labelOnItsWay(set(rule(bridge)), item())?.rule).toBe('to bridge');
    expect(labelOnItsWay(set(), item({ own: chosen(quay) }))?.rule).toBeNull();
  });
});

describe('what is suggested while somebody writes', () => {
  it.each<[string, readonly Automatic[], Partial<ItemOnItsWay>, string | null]>([
    ['what would be applied as it goes', [rule(bridge)], {}, 'bridge'],
    ['what is only suggested', [rule(bridge, { does: 'suggest' })], {}, 'bridge'],
    ['nothing where it is chosen already', [rule(bridge)], { own: chosen(bridge) }, null],
    ['nothing lower than what is chosen', [rule(quay)], { own: chosen(bridge) }, null],
    ['nothing that cannot stand there', [rule(bridge)], { carrier: 'chat' }, null],
    ['nothing where nothing is found', [rule(bridge)], { findings: [] }, null],
  ])('%s', (_what, rules, over, id) =>
    expect(suggestedLabel(set(...rules), item(over))?.label.id ?? null).toBe(id),
  );
});

describe('the label after a verdict', () => {
  const setTo = (to: Label) => ({ kind: 'set-label', label: to.id });
  it.each<[string, Label | null, readonly { kind: string; label?: string }[], string | null]>([
    ['stays without a treatment', quay, [{ kind: 'mark' }], 'quay'],
    ['is set where there was none', null, [setTo(quay)], 'quay'],
    ['is the highest that is set', null, [setTo(quay), setTo(hold), setTo(bridge)], 'hold'],
    ['is not lowered', bridge, [setTo(quay)], 'bridge'],
    ['is not changed to one that is gone', quay, [{ kind: 'set-label', label: 'gone' }], 'quay'],
  ])('%s', (_what, own, treatments, id) => {
    const standing = own && { ...chosen(own), rule: null };
    expect(labelAfter(set(), standing, treatments)?.label.id ?? null).toBe(id);
  });
});
