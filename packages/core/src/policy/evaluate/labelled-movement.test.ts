import { automaticOf } from '@lantern/testkit';
import { NO_LABELS, type WholeLabelSet } from '../../labels/label-problems.js';
import type { Label } from '../../labels/label.js';
import type { Automatic } from '../../labels/automatic.js';
import type { LabelId } from '../../shared/brand.js';
import { labelledBy, patternsOfAutomatic } from './labelled-movement.js';
import type { Channel, InspectedMovement } from '../../movement/movement.js';

const quay = { id: 'quay' as LabelId, name: 'Quay', rank: 100, retired: false } as Label;
const everywhere: Label = { ...quay, carriers: ['document', 'mail', 'chat'] };
const rule = (over: Partial<Automatic>): Automatic =>
  automaticOf(quay.id, { content: [], quantity: 'any', ...over });
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
    expect(labelledBy(set(over), movement(moved)).label !== null).toBe(isSet),
  );

  it.each<[Channel, boolean]>([
    ['mail', true],
    ['chat', true],
    ['drive', true],
    ['browser', false],
    ['endpoint', false],
  ])('stands on what moves by %s: %s', (channel, stands) =>
    expect(labelledBy(set(), movement({ channel })).label !== null).toBe(stands),
  );

  it('is none that cannot stand on what the channel moves', () =>
    expect(labelledBy(set({}, { ...quay, carriers: ['mail'] }), movement()).label).toBeNull());

  const nothing: WholeLabelSet = { ...set(), automatic: [] };
  const part = { id: 'bridge', name: 'Bridge' };
  const whole = { id: 'quay', name: 'Quay', whole: true };

  it('stands before those of its parts, and goes where the rule that set it is gone', () => {
    const { movement: labelled } = labelledBy(set(), movement({ labels: [part] }));
    expect(labelled.labels).toEqual([whole, part]);
    expect(labelledBy(set(), labelled).movement).toEqual(labelled);
    expect(labelledBy(nothing, labelled).movement.labels).toEqual([part]);
  });

  it('stays where a person chose it, also where no set knows it any more', () => {
    const own = { id: 'quay', name: 'Quay', how: 'by-hand' as const };
    const { movement: labelled } = labelledBy(nothing, movement({ own }));
    expect(labelled.labels).toEqual([whole]);
    expect(labelledBy({ ...set(), labels: [] }, labelled)).toMatchObject({
      movement: { labels: [whole] },
      label: null,
    });
  });

  it('asks for the patterns of its rules, each once', () => {
    const term = { pattern: 'iban', distinct: true, certainty: 80, atLeast: 1 } as never;
    expect(
      patternsOfAutomatic({ automatic: [rule({ content: [term, term] }), rule({ content: [term] })] }),
    ).toEqual(['iban']);
  });
});
