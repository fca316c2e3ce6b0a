import { chance } from '@lantern/testkit';
import { spikeOf } from './spikes.js';
import { trendOf, upperTail } from './trend.js';
import { explain } from './explain.js';

/** A Poisson count by Knuth's product of uniforms (The Art of Computer Programming 2, 3.4.1; from memory). */
function poisson(random: { next(): number }, mean: number): number {
  const least = Math.exp(-mean);
  let [count, product] = [0, random.next()];
  while (product > least) {
    count += 1;
    product *= random.next();
  }
  return count;
}

describe('spikeOf', () => {
  it('finds a loud day by hand: median 24, deviation 1 on the scale of roots', () => {
    // 2√(24 + 3/8) = 9.874; of 168: 25.952; their difference is 16.08, and the weeks scatter by less than 1.
    const spike = spikeOf(168, [24, 22, 26, 24, 25, 23, 24, 24])!;
    expect(spike).toMatchObject({ direction: 'more', count: 168, usual: 24 });
    expect(spike.score).toBeCloseTo(16.08, 1);
    // Back from the scale: ((9.874 ± 3.5) / 2)² − 3/8.
    expect([spike.least, spike.most]).toEqual([10, 44]);
  });

  it('finds a quiet day', () =>
    expect(spikeOf(2, [30, 28, 31, 29, 30])).toMatchObject({ direction: 'less' }));

  it('is not misled by up to half of the weeks being spikes themselves', () => {
    expect(spikeOf(150, [20, 22, 400, 21, 380, 19, 20, 22])).not.toBeNull();
    expect(spikeOf(24, [20, 22, 400, 21, 380, 19, 20, 22])).toBeNull();
  });

  it.each([
    ['fewer than four weeks', 100, [1, 1, 1]],
    ['a difference nobody would look into', 4, [0, 0, 0, 0, 0]],
    ['weeks that scatter widely', 60, [5, 50, 10, 80, 30, 2, 70, 20]],
  ])('says nothing about %s', (_what, count, earlier) => expect(spikeOf(count, earlier)).toBeNull());

  it('is right to be silent about chance: fewer than 2 in 1,000 of ordinary counts (seed 5)', () => {
    const random = chance(5);
    let alarms = 0;
    const trials = 4_000;
    for (let trial = 0; trial < trials; trial += 1) {
      const mean = [3, 12, 40, 150][trial % 4] ?? 3;
      const draw = () => poisson(random, mean);
      if (spikeOf(draw(), Array.from({ length: 8 }, draw))) alarms += 1;
    }
    expect(alarms / trials).toBeLessThan(0.002);
  });

  it('finds what doubles, where there is enough to see it (seed 6)', () => {
    const random = chance(6);
    let found = 0;
    for (let trial = 0; trial < 500; trial += 1)
      if (
        spikeOf(
          poisson(random, 80),
          Array.from({ length: 8 }, () => poisson(random, 40)),
        )
      )
        found += 1;
    expect(found / 500).toBeGreaterThan(0.85);
  });
});

describe('upperTail', () => {
  // Abramowitz and Stegun, Handbook of Mathematical Functions, table 26.1.
  it.each([
    [0, 0.5],
    [1, 0.1586552539],
    [1.96, 0.0249978951],
    [2.5, 0.0062096653],
    [3, 0.001349898],
  ])('P(Z > %d)', (z, chanceAbove) => expect(upperTail(z)).toBeCloseTo(chanceAbove, 6));
});

describe('trendOf', () => {
  it('counts pairs as Kendall does: 4, 6, 5, 7, 9 has 9 of 10 pairs rising and one falling', () => {
    const trend = trendOf([[4, 6, 5, 7, 9]])!;
    // S = 9 − 1; without ties the variance is n(n − 1)(2n + 5)/18 (Kendall, Rank Correlation Methods).
    expect([trend.s, trend.variance]).toEqual([8, (5 * 4 * 15) / 18]);
  });

  it('takes ties off the variance: 1, 2, 2, 3', () => {
    // (4·3·13 − 2·1·9) / 18.
    expect(trendOf([[1, 2, 2, 3]])?.variance).toBeCloseTo((156 - 18) / 18, 12);
  });

  it('has the variance of all orders of five values, counted one by one', () => {
    const orders = (left: readonly number[]): number[][] =>
      left.length === 0
        ? [[]]
        : left.flatMap((value) =>
            orders(left.filter((other) => other !== value)).map((rest) => [value, ...rest]),
          );
    const all = orders([1, 2, 3, 4, 5]).map((order) => trendOf([order])!);
    const mean = all.reduce((sum, { s }) => sum + s * s, 0) / all.length;
    expect(all[0]?.variance).toBeCloseTo(mean, 10);
  });

  it('adds up seasons and gives the median slope over pairs of the same season', () => {
    const trend = trendOf([
      [10, 12, 14, 16],
      [100, 102, 104, 106],
    ])!;
    expect(trend).toMatchObject({ s: 12, slope: 2 });
    expect(trend.chance).toBeLessThan(0.01);
  });

  it('sees none in what only scatters, and none in fewer than four weeks', () => {
    expect(trendOf([[5, 3, 6, 4, 5, 4]])?.chance).toBeGreaterThan(0.5);
    expect(trendOf([[1, 2, 3]])).toBeNull();
  });
});

describe('explain', () => {
  const of = (field: 'rule' | 'person', value: string, count: number, usual: number) => ({
    field,
    value,
    count,
    usual,
  });
  it('names for each field the value that makes up most of the difference', () => {
    const parts = explain(
      [
        of('rule', 'cards', 159, 9),
        of('rule', 'tides', 5, 4),
        of('person', 'a', 60, 0),
        of('person', 'b', 90, 1),
      ],
      150,
    );
    expect(parts.map(({ value, share }) => [value, Math.round(share * 100)])).toEqual([
      ['cards', 100],
      ['b', 59],
    ]);
  });
  it('explains a quiet day by what is missing', () =>
    expect(explain([of('rule', 'cards', 0, 30)], -32)).toMatchObject([{ value: 'cards' }]));
  it('has nothing to explain where nothing differs, or where everything differs a little', () => {
    expect(explain([of('rule', 'cards', 3, 3)], 0)).toEqual([]);
    expect(explain([of('person', 'a', 3, 1), of('person', 'b', 3, 1), of('person', 'c', 3, 1)], 6)).toEqual(
      [],
    );
  });
});
