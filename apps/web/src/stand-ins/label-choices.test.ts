import type { ChooserView } from '@lantern/contracts';
import { lowers, startingLabel } from './label-choices';

const choice = (id: string, rank: number): ChooserView['labels'][number] => ({
  id,
  name: id,
  rank,
  family: '',
  colour: '#000000',
  when: '',
  not: '',
  handling: '',
  namesFor: [],
});
const chooser = { labels: [choice('low', 100), choice('high', 700)] };

describe('startingLabel', () => {
  it('is there before anybody thought only where it is preset', () => {
    expect(startingLabel({ starts: { kind: 'preset', label: 'low' } })).toBe('low');
    expect(startingLabel({ starts: { kind: 'proposed', label: 'low' } })).toBeNull();
    expect(startingLabel({ starts: { kind: 'bare', label: null } })).toBeNull();
  });
});

describe('lowers', () => {
  it.each([
    [null, 'low', false],
    ['low', 'high', false],
    ['low', 'low', false],
    ['high', 'low', true],
    ['high', null, true],
    ['unknown', 'high', true],
    [null, null, false],
  ])('%s to %s: %s', (before, after, down) => {
    expect(lowers(before, after, chooser)).toBe(down);
  });
});
