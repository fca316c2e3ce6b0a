import type { Automatic } from '@lantern/core/labels';
import type { AutomaticId, LabelId, PatternId } from '@lantern/core/shared';

/** An automatic rule for two distinct payment cards, certain to 80; what is given stands instead. */
export function automaticOf(label: string, over: Partial<Automatic> = {}): Automatic {
  return {
    id: `to ${label}` as AutomaticId,
    name: `To ${label}`,
    label: label as LabelId,
    content: [{ pattern: 'payment-card' as PatternId, distinct: true, certainty: 80, atLeast: 2 }],
    quantity: 'every',
    kinds: [],
    places: [],
    sharedWith: 'anybody',
    does: 'apply',
    lowersPeople: false,
    atMost: null,
    ...over,
  };
}
