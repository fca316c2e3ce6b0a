import { FIELD_NAMES, type FilterFault, parseFilter } from '@lantern/core/incidents';
import {
  faultWords,
  FIELD_GROUPS,
  FIELD_WORDS,
  partWords,
  remarkWords,
  usualWords,
  valueWords,
} from './desk';

const part = (line: string) => {
  const parsed = parseFilter(line);
  if (parsed.status === 'faulty') throw new Error(line);
  return partWords(parsed.filter);
};

it.each([
  ['severity eq "high"', 'Severity', 'High'],
  ['not (channel eq "mail" or channel eq "chat")', 'Channel', 'not mail, chat'],
  ['assignee pr', 'Assigned to', 'any'],
  ['not (assignee pr)', 'Assigned to', 'none'],
  ['time ge "10 days ago"', 'Time', 'since 10 days ago'],
  ['urgency ge 60', 'Urgency', 'is at least 60'],
  ['overdue eq true', 'Overdue', 'yes'],
  ['(person pr or machine pr)', 'Condition', 'as text'],
])('says %s as a chip', (line, about, asks) => expect(part(line)).toEqual({ about, asks }));

it('has every field of the filter menu once, and a word for every field', () => {
  const shown = FIELD_GROUPS.flatMap(({ fields }) => fields);
  expect(new Set(shown).size).toBe(shown.length);
  expect(new Set(Object.values(FIELD_WORDS)).size).toBe(FIELD_NAMES.length);
});

it.each([
  ['severty eq 1', 'No field is called severty. Possible here: severity.'],
  ['severity eq high', 'A value belongs here: write high in quotation marks. Possible here: "low".'],
  ['time ge "soon"', '"soon" is not a time. Write a date such as "2026-11-30", or "10 days ago".'],
  ['(person pr', 'The closing parenthesis is missing.'],
])('says what is wrong with %s', (line, words) => {
  const parsed = parseFilter(line);
  expect(parsed.status === 'faulty' && faultWords(parsed.fault)).toBe(words);
});

it('has words for every fault', () => {
  const codes = [
    'too-long',
    'too-deep',
    'too-many-terms',
    'wrong-kind',
    'bad-escape',
    'joiner-expected',
  ] as const;
  const said = codes.map((code: FilterFault['code']) => faultWords({ code, word: 'x', expected: [] }));
  expect(new Set(said).size).toBe(codes.length);
});

it.each([
  [0, 'usually none'],
  [0.25, 'usually one in 4 weeks'],
  [1, 'usually 1 a week'],
  [6.66, 'usually 6.7 a week'],
])('says a rate of %d a week as %s', (rate, words) => expect(usualWords(rate)).toBe(words));

it.each([
  [2, 'Second'],
  [3, 'Third'],
  [11, '11th'],
  [21, '21st'],
  [22, '22nd'],
  [112, '112th'],
])('counts %d as %s', (count, word) => {
  const remark = { code: 'same-rule-lately', rule: 'r', count, days: 7, usual: 0, chance: 0 } as const;
  expect(remarkWords(remark, () => 'Cards')).toBe(`${word} match of "Cards" within 7 days; usually none.`);
});

it('says values as people read them', () => {
  expect(valueWords('outcome', 'false-positive')).toBe('False positive');
  expect(valueWords('policy', 'abc', 'Cards')).toBe('Cards');
  expect(valueWords('test', true)).toBe('yes');
  expect(valueWords('assignee', null)).toBe('none');
});
