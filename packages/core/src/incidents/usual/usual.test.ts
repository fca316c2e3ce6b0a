import { medianOf, unusual } from './rate.js';
import { type PastMovement, remarksOn } from './remarks.js';

const DAY = 86_400_000;

/** P(X ≥ count) by adding up Poisson chances over the rates that Gamma(before + ½, beforeDays) allows. */
function byIntegration(count: number, days: number, before: number, beforeDays: number): number {
  const shape = before + 0.5;
  const most = (shape + 12 * Math.sqrt(shape) + 12) / beforeDays;
  const steps = 40_000;
  let [sum, weight] = [0, 0];
  for (let step = 0; step < steps; step += 1) {
    // Squared steps: the density has a pole at 0 for no events.
    const u = (step + 0.5) / steps;
    const rate = most * u * u;
    const density = Math.exp((shape - 1) * Math.log(rate) - rate * beforeDays) * u;
    let [term, below] = [Math.exp(-rate * days), 0];
    for (let k = 0; k < count; k += 1) {
      below += term;
      term *= (rate * days) / (k + 1);
    }
    sum += density * (1 - below);
    weight += density;
  }
  return sum / weight;
}

describe('unusual', () => {
  it.each([
    [1, 7, 0, 84],
    [3, 7, 1, 84],
    [12, 7, 40, 77],
    [2, 1, 6, 60],
    [0, 7, 3, 84],
  ])('%d in %d days after %d in %d: the chance that integration gives', (count, days, before, beforeDays) => {
    const { chance, usual } = unusual({ count, days }, { before, beforeDays })!;
    expect(chance).toBeCloseTo(byIntegration(count, days, before, beforeDays), 3);
    expect(usual).toBeCloseTo((before / beforeDays) * days, 10);
  });

  it('says nothing about less than four weeks', () => {
    expect(unusual({ count: 9, days: 7 }, { before: 0, beforeDays: 27 })).toBeNull();
  });

  it('stays a chance for large counts', () => {
    const { chance } = unusual({ count: 5000, days: 7 }, { before: 60_000, beforeDays: 84 })!;
    expect(chance).toBeGreaterThan(0.4);
    expect(chance).toBeLessThan(0.6);
  });
});

describe('remarksOn', () => {
  const now = 100 * DAY;
  const one = (daysAgo: number, more: Partial<PastMovement> = {}): PastMovement => ({
    at: now - daysAgo * DAY,
    channel: 'mail',
    domains: ['broker.example'],
    incident: false,
    rules: [],
    values: 2,
    ...more,
  });
  const quiet = Array.from({ length: 30 }, (_, at) => one(8 + at * 2.5));
  const codes = (movement: PastMovement, past: readonly PastMovement[], since = now - 84 * DAY) =>
    remarksOn(movement, past, since).map(({ code }) => code);

  it('has nothing to say about an ordinary movement', () => {
    expect(codes(one(0), quiet)).toEqual([]);
  });
  it('names the third incident of a week after none in eleven', () => {
    const hit = { incident: true, rules: ['r'] };
    expect(codes(one(0, hit), [...quiet, one(1, hit), one(3, hit)])).toEqual([
      'incidents-lately',
      'same-rule-lately',
    ]);
  });
  it('names first destinations, first channels and amounts', () => {
    expect(codes(one(0, { domains: ['rival.example'], channel: 'browser', values: 90 }), quiet)).toEqual([
      'first-to-domain',
      'first-by-channel',
      'times-usual-values',
    ]);
  });
  it('is silent about rates where little is known', () => {
    expect(remarksOn(one(0, { domains: ['new.example'] }), [], now - 20 * DAY)).toEqual([
      { code: 'short-history', days: 20 },
    ]);
  });
  it('does not look at what came later', () => {
    expect(codes(one(0), [...quiet, ...Array.from({ length: 50 }, () => one(-1))])).toEqual([]);
  });
});

it('takes the middle', () => {
  expect([medianOf([3, 1, 2]), medianOf([4, 1]), medianOf([])]).toEqual([2, 2.5, null]);
});
