import { endingsOf, limitOf, linesOf } from './job-request';

it.each([
  ['.DOCX, pdf;*.xlsx  pdf', ['docx', 'pdf', 'xlsx']],
  ['', []],
  [' , ; ', []],
])('endings of %j', (text, endings) => expect(endingsOf(text)).toEqual(endings));

it('takes lines without those that are empty', () =>
  expect(linesOf(' a/b \n\n*.tmp\n')).toEqual(['a/b', '*.tmp']));

it.each([
  ['', null],
  ['0', null],
  ['-3', null],
  ['many', null],
  ['2.6', 3],
  [' 30 ', 30],
])('limit of %j', (text, limit) => expect(limitOf(text)).toBe(limit));
