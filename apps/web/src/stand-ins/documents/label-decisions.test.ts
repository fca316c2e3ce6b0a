import type { ChooserView, DocumentDetail } from '@lantern/contracts';
import { effectRefusal, lowers, startingLabel } from './label-decisions';

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

describe('effectRefusal', () => {
  const document = {
    owner: { name: 'Tomas', address: 't@x' },
    leaves: [
      { effect: 'read', allowed: true, clause: { code: 'inside' } },
      { effect: 'pass-on', allowed: false, clause: { code: 'not-granted' } },
    ],
  } as unknown as DocumentDetail;

  it('says why and whom to ask, and nothing where it is allowed', () => {
    expect(effectRefusal(document, 'read')).toBeNull();
    expect(effectRefusal(document, 'pass-on')).toBe('the label does not name you; ask Tomas');
    expect(effectRefusal(null, 'change')).toBeNull();
  });
});
