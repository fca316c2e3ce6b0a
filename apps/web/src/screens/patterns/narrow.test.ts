import type { PatternSummary } from '@lantern/contracts';
import { narrowPatterns } from './narrow';

const pattern = (name: string, kind: PatternSummary['kind'], about = ''): PatternSummary => ({
  id: name,
  name,
  kind,
  origin: 'ready',
  countries: [],
  about,
  source: '',
  usedBy: [],
  state: 'published',
  words: 0,
});
const all = [
  pattern('Payment card number', 'payment', 'front of a card'),
  pattern('IBAN', 'bank'),
  pattern('Slackwater', 'own-words'),
];

describe('narrowPatterns', () => {
  it.each([
    ['nothing asked', { kind: '', words: '' }, 3],
    ['a kind', { kind: 'bank', words: '' }, 1],
    ['words in any order and case', { kind: '', words: 'NUMBER front' }, 1],
    ['a kind and a word that disagree', { kind: 'bank', words: 'card' }, 0],
  ])('%s', (_name, filter, count) => expect(narrowPatterns(all, filter)).toHaveLength(count));
});
