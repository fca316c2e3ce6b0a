import { DEFAULT_MIN_CERTAINTY, readUsage } from './usage.js';

const understood = (...given: string[]) => {
  const usage = readUsage(given);
  if (usage.status !== 'understood') throw new Error(`not understood: ${usage.status}`);
  return usage.choices;
};

describe('readUsage', () => {
  it('takes paths and options in any order', () => {
    expect(understood('a', '--json', 'b', '--min-certainty', '80', '-')).toEqual({
      json: true,
      showValues: false,
      minCertainty: 80,
      specimens: null,
      paths: ['a', 'b', '-'],
    });
    expect(understood('--show-values', '--min-certainty=0', 'a')).toMatchObject({
      showValues: true,
      minCertainty: 0,
    });
    expect(understood('a').minCertainty).toBe(DEFAULT_MIN_CERTAINTY);
  });

  it('takes everything behind -- for a path', () =>
    expect(understood('--', '--json').paths).toEqual(['--json']));

  it.each([
    [['--min-certainty', '140', 'a']],
    [['--min-certainty', 'high', 'a']],
    [['--min-certainty']],
    [['--specimens']],
    [['--specimens', 'a', 'b']],
    [['--min-certainty', '', 'a']],
    [['--loud', 'a']],
    [['-x', 'a']],
    [[]],
    [['--json']],
  ])('refuses %j with a sentence', (given) => {
    expect(readUsage(given)).toMatchObject({
      status: 'wrong',
      problem: expect.stringMatching(/\w+ .+/) as string,
    });
  });

  it('offers help', () => expect(readUsage(['a', '--help'])).toEqual({ status: 'help' }));
});
