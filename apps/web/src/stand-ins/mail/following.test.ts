import type { ChooserView } from '@lantern/contracts';
import { followingOf } from './following';

const label = (id: string, rank: number): ChooserView['labels'][number] => ({
  id,
  name: id,
  rank,
  family: '',
  colour: '#123456',
  when: '',
  not: '',
  handling: '',
  namesFor: [],
});
const labels = [label('low', 100), label('high', 700)];
const high = { id: 'high', name: 'high', rank: 700, colour: '#123456' };

describe('followingOf', () => {
  it('says what a mail takes, and proposes what it does not take by itself', () => {
    expect(followingOf({ follows: 'takes-highest', labels }, 'low', high)).toEqual({
      words: 'The mail goes as “high”, as its files do.',
      take: null,
    });
    expect(followingOf({ follows: 'proposes-highest', labels }, 'low', high)).toEqual({
      words: 'A file carries “high”.',
      take: 'high',
    });
    expect(followingOf({ follows: 'proposes-highest', labels }, null, high)?.take).toBe('high');
  });

  it('proposes nothing that cannot be chosen', () => {
    const following = followingOf({ follows: 'proposes-highest', labels: [label('low', 100)] }, 'low', high);
    expect(following).toMatchObject({ take: null, words: expect.stringContaining('cannot choose') });
  });

  it('is silent where nothing follows', () => {
    expect(followingOf({ follows: 'stands-alone', labels }, 'low', high)).toBeNull();
    expect(followingOf({ follows: 'proposes-highest', labels }, 'high', high)).toBeNull();
    expect(followingOf({ follows: 'takes-highest', labels }, 'low', null)).toBeNull();
  });
});
