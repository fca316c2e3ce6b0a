import type { PatternSummary } from '@lantern/contracts';
import { narrowPatterns } from './narrow';

const pattern = (name: string, kind: PatternSummary['kind'], about = ''): PatternSummary => ({
  id: name,
  name,
  otherNames: name === 'IBAN' ? ['Bankverbindung'] : [],
  kind,
  origin: 'ready',
  countries: [],
  about,
  source: '',
  usedBy: [],
  state: 'published',
  words: 0,
  check: '',
  decided: 0,
  falsePositives: 0,
});
const nothing = { kind: '', country: '', show: '', words: '' };
const all = [
  pattern('Payment card number', 'payment', 'front of a card'),
  { ...pattern('IBAN', 'bank'), countries: ['DE'], usedBy: ['Payments'], decided: 4, falsePositives: 3 },
  pattern('Slackwater', 'own-words'),
];

describe('narrowPatterns', () => {
  it.each([
    ['nothing asked', nothing, 3],
    ['a kind', { ...nothing, kind: 'bank' }, 1],
    ['words in any order and case', { ...nothing, words: 'NUMBER front' }, 1],
    ['another name', { ...nothing, words: 'bankverbindung' }, 1],
    ['a country by its name', { ...nothing, words: 'germany' }, 1],
    ['a country', { ...nothing, country: 'DE' }, 1],
    ['another country', { ...nothing, country: 'FR' }, 0],
    ['used', { ...nothing, show: 'used' }, 1],
    ['not used', { ...nothing, show: 'unused' }, 2],
    ['noisy', { ...nothing, show: 'noisy' }, 1],
    ['changed', { ...nothing, show: 'changed' }, 0],
    ['a kind and a word that disagree', { ...nothing, kind: 'bank', words: 'card' }, 0],
  ])('%s', (_name, filter, count) => expect(narrowPatterns(all, filter)).toHaveLength(count));
});
