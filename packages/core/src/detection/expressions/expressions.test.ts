import { RE2JS } from 're2js';
import { chance } from '@lantern/testkit';
import { toSearchText } from '../../text/search-text.js';
import { faultOf } from './judge.js';
import { readExpression } from './read.js';
import { ExpressionSearch, MAX_VALUE } from './search.js';

const found = (expression: string, text: string, caseMatters = false): string[] => {
  const search = toSearchText(text);
  return new ExpressionSearch([readExpression(expression, caseMatters)])
    .find(search.units)
    .map(({ start, end }) => search.text.slice(start, end));
};

describe('own expressions', () => {
  it.each([
    ['\\bMS-\\d{6}\\b', 'ref MS-104233, not MS-1042334 nor XMS-104233', ['MS-104233']],
    ['ms-\\d+', 'MS-1 ms-22', ['MS-1', 'ms-22']],
    ['(?:red|redder)', 'redder than red', ['redder', 'red']],
    ['^total: \\d+$', 'total: 5\nsubtotal: 6\ntotal: 7 of 8\ntotal: 9', ['total: 5', 'total: 9']],
    ['(?<!\\d)\\d{4}(?!\\d)', '1234 12345 9876', ['1234', '9876']],
    ['[^a-c]x', 'ax bx cx dx Ax', ['dx']],
    ['a.*b', 'xa 1b 2b\na b', ['a 1b 2b', 'a b']],
    ['(a|ab)(c|bcd)', 'abcd', ['abcd']],
    ['x{2,3}', 'xxxxx', ['xxx', 'xx']],
    ['💡+', 'a 💡💡 b', ['💡💡']],
    ['straße', 'STRASSE Straße', ['Straße']],
    ['１２-\\d', '12-3', ['12-3']],
    ['\\Bend', 'end bend', ['end']],
  ])('%s', (expression, text, values) => {
    expect(found(expression, text)).toEqual(values);
  });

  it('heeds case where it matters', () => {
    expect(found('MS-\\d', 'ms-1 MS-2', true)).toEqual(['MS-2']);
    expect(found('\\p{Lu}{3}\\d', 'ÄÖÜ1 abc2', true)).toEqual(['ÄÖÜ1']);
  });

  it('finds values that were written with other digits and invisible characters', () => {
    expect(found('MS-\\d{6}', 'MS‑１０４２３３ and MS-104\u200b233')).toEqual(['MS-104233', 'MS-104233']);
  });

  it.each([
    ['', 'empty', 0],
    ['a(b', 'not-readable', 0],
    ['(a)\\1', 'refers-back', 3],
    ['a(?=bc)', 'looks-around', 1],
    ['(?:a{1,80}){1,80}', 'too-large', 0],
    ['x'.repeat(2_001), 'too-large', 2_000],
    ['\\d*', 'finds-nothing', 0],
    ['\\w+', 'finds-everything', 0],
    ['.', 'finds-everything', 0],
    ['[aeiou]', 'finds-everything', 0],
  ])('refuses %s', (expression, problem, at) => {
    const fault = faultOf(expression, false);
    expect(fault?.problem).toBe(problem);
    if (problem !== 'not-readable') expect(fault?.at).toBe(at);
  });

  it.each(['(a+)+$', '(a|aa)+c', '(x+x+)+y', 'a?a?a?a?a?a?a?a?a?a?aaaaaaaaaa', '(.*)*;[0-9]'])(
    'runs %s over text made for it without a way back',
    (expression) => {
      const steps = (length: number): number => {
        const { units } = toSearchText(`${'a'.repeat(length)}x`);
        return new ExpressionSearch([readExpression(expression, true)]).find(units).length;
      };
      // A machine with a way back takes longer than the age of the universe for some of these.
      expect(steps(20_000)).toBeGreaterThanOrEqual(0);
    },
  );

  it('cuts values at the longest that is told', () => {
    expect(found('a+', 'a'.repeat(MAX_VALUE + 10)).map((value) => value.length)).toEqual([MAX_VALUE, 10]);
  });

  it('finds what a reference library with the same rule finds', () => {
    // re2js is held to RE2; LONGEST_MATCH asks it for leftmost-longest, as here.
    const random = chance(11);
    const pieces = [
      'a',
      'b',
      '[ab]',
      '\\d',
      '(a|bc)',
      'c?',
      'b*',
      'a+',
      '(ab){1,2}',
      '\\b',
      '[^a]',
      '1{2,3}',
    ];
    let compared = 0;
    for (let round = 0; round < 1500; round += 1) {
      const expression = Array.from({ length: random.whole(1, 5) }, () => random.pick(pieces)).join('');
      const text = Array.from({ length: random.whole(0, 40) }, () => random.pick([...'aabbc1 '])).join('');
      const matcher = RE2JS.compile(expression, RE2JS.LONGEST_MATCH).matcher(text);
      const expected: string[] = [];
      while (matcher.find())
        if (matcher.group() !== '') expected.push(`${matcher.start()} ${matcher.group()}`);
      const { units } = toSearchText(text);
      const actual = new ExpressionSearch([readExpression(expression, true)])
        .find(units)
        .map(({ start, end }) => `${start} ${text.slice(start, end)}`);
      // Where nothing may be found too, the reference steps on over empty places; those expressions are refused here.
      if (new RegExp(`^(?:${expression})$`).test('')) continue;
      compared += 1;
      expect([expression, text, actual]).toEqual([expression, text, expected]);
    }
    expect(compared).toBeGreaterThan(900);
  });

  it('finds the same for many expressions together as for each alone, also when its steps are forgotten', () => {
    const random = chance(12);
    const expressions = Array.from({ length: 60 }, (_unused, index) => {
      const letters = Array.from({ length: 3 }, () => random.pick([...'abcdefgh'])).join('');
      return index % 3 === 0 ? `\\b${letters}-\\d{4,6}\\b` : `[${letters}]{3}.{0,6}[${letters}]\\d`;
    });
    const text = Array.from({ length: 20_000 }, () => random.pick([...'abcdefgh0123456789- \n'])).join('');
    const { units } = toSearchText(text);
    const pieces = expressions.map((expression) => readExpression(expression, true));
    const together = new ExpressionSearch(pieces).find(units);
    pieces.forEach((piece, index) => {
      const alone = new ExpressionSearch([piece]).find(units).map(({ start, end }) => [start, end]);
      const among = together.flatMap(({ expression, start, end }) =>
        expression === index ? [[start, end]] : [],
      );
      expect(among).toEqual(alone);
    });
  });
});
