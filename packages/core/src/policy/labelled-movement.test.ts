import { NO_LABELS, type WholeLabelSet } from '../labels/label-problems.js';
import type { Label } from '../labels/label.js';
import type { Automatic } from '../labels/automatic.js';
import type { AutomaticId, LabelId } from '../shared/brand.js';
import { labelOfMovement } from './labelled-movement.js';
import type { Channel, InspectedMovement } from './movement.js';

const quay = { id: 'quay' as LabelId, name: 'Quay', rank: 100, retired: false } as Label;
const everywhere: Label = { ...quay, carriers: ['document', 'mail', 'chat'] };
const rule = (over: Partial<Automatic>): Automatic => ({
  id: 'a' as AutomaticId,
  name: 'A',
  label: quay.id,
  content: [],
  quantity: 'any',
  kinds: [],
  places: [],
  sharedWith: 'anybody',
  does: 'apply',
  lowersPeople: false,
  atMost: null,
  ...over,
});
const set = (over: Partial<Automatic> = {}, label: Label = everywhere): WholeLabelSet => ({
  ...NO_LABELS,
  labels: [label],
  automatic: [rule(over)],
});
const movement = (over: Partial<InspectedMovement> = {}): InspectedMovement =>
  ({
    channel: 'drive',
    at: 0,
    sender: { address: 'ada@house.example' },
    recipients: [{ address: 'guest@elsewhere.example', outside: true }],
    parts: [],
    files: [{ name: 'list.csv', kind: 'text', claimed: 'text', bytes: 1 }],
    earlier: [],
    from: [{ kind: 'place', path: '/Tariffs/2026/list.csv' }],
    ...over,
  }) as InspectedMovement;

describe('the label of a movement', () => {
  it.each<[string, Partial<Automatic>, Partial<InspectedMovement>, boolean]>([
    ['by its folder', { places: ['Tariffs'] }, {}, true],
    ['not by its own name', { places: ['Tariffs/2026/list.csv'] }, {}, false],
    ['by another folder', { places: ['Tariffs/2027'] }, {}, false],
    ['by the person whose it is', { places: ['ada@house.example'] }, {}, true],
    ['by the kind of the file', { kinds: ['text'] }, {}, true],
    ['by another kind', { kinds: ['pdf'] }, {}, false],
    ['by a kind, for a mail, which is no file', { kinds: ['text'] }, { channel: 'mail' }, false],
    ['by whom it is shared with', { sharedWith: 'outside' }, {}, true],
    ['where nobody outside gets it', { sharedWith: 'outside' }, { recipients: [] }, false],
  ])('is set %s: %#', (_what, over, moved, isSet) =>
    expect(labelOfMovement(set(over), movement(moved), null) !== null).toBe(isSet),
  );

  it.each<[Channel, boolean]>([
    ['mail', true],
    ['chat', true],
    ['drive', true],
    ['browser', false],
    ['endpoint', false],
  ])('stands on what moves by %s: %s', (channel, stands) =>
    expect(labelOfMovement(set(), movement({ channel }), null) !== null).toBe(stands),
  );

  it('is none that cannot stand on what the channel moves', () =>
    expect(labelOfMovement(set({}, { ...quay, carriers: ['mail'] }), movement(), null)).toBeNull());
});
