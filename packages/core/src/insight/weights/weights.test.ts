import { chance } from '@lantern/testkit';
import type { Evidence } from '../../detection/index.js';
import { brierScore, reliability } from './calibration.js';
import { type DecidedFinding, isHeldOut, learnWeights } from './learn.js';
import { chanceOf, fitLogistic, type LabelledCase, solve } from './logistic.js';

describe('fitLogistic', () => {
  // The example of hours of study and a passed examination, as the article "Logistic regression" of the English Wikipedia
  // works it out: constant -4.1, hours 1.5 (to four digits -4.0777 and 1.5046).
  const hours = [
    ...[0.5, 0.75, 1, 1.25, 1.5, 1.75, 1.75, 2, 2.25, 2.5, 2.75, 3, 3.25, 3.5, 4, 4.25, 4.5, 4.75, 5, 5.5],
  ];
  const passed = [0, 0, 0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 1, 1, 1, 1, 1];
  const cases: LabelledCase[] = hours.map((hour, at) => ({
    features: [1, hour],
    offset: 0,
    real: passed[at] === 1,
  }));

  it('gives the coefficients of the worked example where the prior says next to nothing', () => {
    const [constant = 0, hour = 0] = fitLogistic(cases, { means: [0, 0], precision: 1e-9 });
    expect(constant).toBeCloseTo(-4.0777, 3);
    expect(hour).toBeCloseTo(1.5046, 3);
    expect(chanceOf({ features: [1, 2], offset: 0 }, [constant, hour])).toBeCloseTo(0.2557, 3);
  });

  it('stays at the prior without cases, and moves little for one', () => {
    const prior = { means: [2, -1], precision: 4 };
    expect(fitLogistic([], prior)).toEqual([2, -1]);
    const [first = 0] = fitLogistic([{ features: [1, 0], offset: 0, real: false }], prior);
    expect(2 - first).toBeGreaterThan(0.1);
    expect(2 - first).toBeLessThan(0.25);
  });

  it('ends where the slope of the posterior is nought, also where one feature tells the cases apart (seed 8)', () => {
    const random = chance(8);
    const some: LabelledCase[] = Array.from({ length: 300 }, () => {
      const features = [1, random.next(), random.next() * 4];
      return { features, offset: random.next() - 0.5, real: (features[2] ?? 0) > 2 };
    });
    const prior = { means: [0.5, 0.5, 0.5], precision: 0.5 };
    const weights = fitLogistic(some, prior);
    for (const [at, weight] of weights.entries()) {
      const slope = some.reduce(
        (sum, one) => sum + (one.features[at] ?? 0) * (chanceOf(one, weights) - (one.real ? 1 : 0)),
        prior.precision * (weight - 0.5),
      );
      expect(Math.abs(slope)).toBeLessThan(1e-6);
    }
  });

  it('solves a system that needs its rows exchanged', () => {
    const [x, y] = solve(
      [
        [0, 2],
        [3, 1],
      ],
      [4, 5],
    );
    expect([x, y]).toEqual([1, 2]);
  });
});

describe('calibration', () => {
  // Forecasts 0.9, 0.7, 0.8, 0.3 with outcomes 1, 1, 0, 0: (0.01 + 0.09 + 0.64 + 0.09) / 4, by hand.
  const said = [
    ...[
      { chance: 0.9, real: true },
      { chance: 0.7, real: true },
      { chance: 0.8, real: false },
      { chance: 0.3, real: false },
    ],
  ];
  it('has the Brier score', () => expect(brierScore(said)).toBeCloseTo(0.2075, 10));
  it('has none for nothing', () => expect(brierScore([])).toBeNull());
  it('says for each stretch how often it came true', () =>
    expect(reliability([...said, { chance: 1, real: true }], 5)).toEqual([
      { from: 0.2, to: 0.4, cases: 1, said: 0.3, real: 0 },
      { from: 0.6, to: 0.8, cases: 1, said: 0.7, real: 1 },
      { from: 0.8, to: 1, cases: 3, said: expect.closeTo(0.9, 10) as number, real: 2 / 3 },
    ]));
});

describe('learnWeights', () => {
  const shape: Evidence = { code: 'shape', weight: -1 };
  const word: Evidence = { code: 'supporting-word', weight: 4 };
  const neighbours: Evidence = { code: 'neighbours', weight: 0.5 };
  const finding = (id: number, real: boolean, ...evidence: Evidence[]): DecidedFinding => ({
    id: `incident ${id}`,
    real,
    evidence,
  });
  const present = { shape: -1, supportingWord: 4, namingWord: 5 };

  it('takes weight from a word that stands beside false findings, and leaves alone what no case shows', () => {
    const findings = Array.from({ length: 60 }, (_, id) =>
      finding(id, id % 3 === 0, shape, word, neighbours),
    );
    const learned = learnWeights(findings, present, 10)!;
    const of = (name: string) =>
      learned.weights.find((weight) => weight.name === name)?.learned ?? Number.NaN;
    expect(of('supportingWord')).toBeLessThan(3);
    expect(of('namingWord')).toBe(5);
    expect(learned.brier.learned).toBeLessThan(learned.brier.now ?? 0);
    expect(learned.learnedFrom + learned.heldOut).toBe(60);
    expect(learned.sure.wrong).toMatchObject({ now: 40, of: 40 });
    expect(learned.sure.wrong.learned).toBeLessThan(40);
  });

  it('never turns what speaks for a value against it', () => {
    const findings = Array.from({ length: 400 }, (_, id) =>
      finding(id, id % 100 === 0, { code: 'supporting-word', weight: 4 }, { code: 'look', weight: 3 }),
    );
    expect(learnWeights(findings, { supportingWord: 4 }, 10)?.weights[0]?.learned).toBe(0);
  });

  it('lets a far word teach less than a near one', () => {
    const at = (share: number) =>
      learnWeights(
        Array.from({ length: 40 }, (_, id) =>
          finding(id, id % 4 === 0, shape, { code: 'supporting-word', weight: 4 * share }),
        ),
        present,
        10,
      )?.weights.find(({ name }) => name === 'supportingWord')?.learned ?? 0;
    expect(4 - at(0.4)).toBeLessThan(4 - at(1));
  });

  it('says nothing about few decisions, or of one kind alone', () => {
    expect(learnWeights([finding(1, true, shape), finding(2, false, shape)], present, 10)).toBeNull();
    expect(
      learnWeights(
        Array.from({ length: 50 }, (_, id) => finding(id, false, shape)),
        present,
        10,
      ),
    ).toBeNull();
  });

  it('holds one in five out, always the same', () => {
    const out = Array.from({ length: 2_000 }, (_, id) => isHeldOut(`incident ${id}`)).filter(Boolean).length;
    expect(out).toBeGreaterThan(340);
    expect(out).toBeLessThan(460);
    expect(isHeldOut('incident 5')).toBe(isHeldOut('incident 5'));
  });
});
