import type { Automatic, Label, Offer } from '@lantern/core/labels';
import type { LabelId } from '@lantern/core/shared';

export function newOffer(offers: readonly Offer[], labels: readonly Label[]): Omit<Offer, 'id'> {
  return {
    name: offers.length === 0 ? 'Everybody' : `Offer ${offers.length + 1}`,
    people: { with: [], without: [] },
    carriers: ['document', 'mail'],
    labels: labels.filter(({ retired }) => !retired).map(({ id }) => id),
    starts: { kind: 'bare' },
    needs: 'nothing',
    lowering: 'reason',
    follows: 'takes-highest',
    from: null,
    telling: '',
  };
}

export function newAutomatic(rules: readonly Automatic[], labels: readonly Label[]): Omit<Automatic, 'id'> {
  return {
    name: `Rule ${rules.length + 1}`,
    label: (labels[0]?.id ?? '') as LabelId,
    content: [],
    quantity: 'any',
    kinds: [],
    places: [],
    sharedWith: 'anybody',
    does: 'suggest',
    lowersPeople: false,
    atMost: null,
  };
}

/** A list with one place changed. */
export function replaced<Thing>(list: readonly Thing[], index: number, change: Partial<Thing>): Thing[] {
  return list.map((each, at) => (at === index ? { ...each, ...change } : each));
}

export function without<Thing>(list: readonly Thing[], index: number): Thing[] {
  return list.filter((_each, at) => at !== index);
}

/** A list with one thing moved by some places. */
export function moved<Thing>(list: readonly Thing[], index: number, by: number): Thing[] {
  const to = Math.max(0, Math.min(list.length - 1, index + by));
  const rest = without(list, index);
  const thing = list[index];
  return thing === undefined ? [...list] : [...rest.slice(0, to), thing, ...rest.slice(to)];
}

export function toggled<Thing>(list: readonly Thing[], thing: Thing): Thing[] {
  return list.includes(thing) ? list.filter((each) => each !== thing) : [...list, thing];
}
