import { CLOCK, restOf } from './resting.js';

const at = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
const hours = (from: string, to: string, now: string) =>
  restOf({ hours: { from, to }, batteryAbove: null }, at(now), null);

describe('restOf', () => {
  it('works within its hours, the last minute not among them', () => {
    expect([hours('08:00', '18:00', '08:00'), hours('08:00', '18:00', '17:59')]).toEqual([null, null]);
    expect([hours('08:00', '18:00', '07:59'), hours('08:00', '18:00', '18:00')]).toEqual(['hours', 'hours']);
  });

  it('works past midnight, and all day where the hours are equal', () => {
    expect(['22:00', '23:59', '00:00', '05:59'].map((now) => hours('22:00', '06:00', now))).toEqual(
      Array.from({ length: 4 }, () => null),
    );
    expect(['06:00', '12:00', '21:59'].map((now) => hours('22:00', '06:00', now))).toEqual(
      Array.from({ length: 3 }, () => 'hours'),
    );
    expect(hours('09:00', '09:00', '03:00')).toBeNull();
  });

  it('rests on a battery below its level, and not on a plug', () => {
    const battery = (percent: number | null) => restOf({ hours: null, batteryAbove: 40 }, 0, percent);
    expect([battery(39), battery(40), battery(null)]).toEqual(['battery', null, null]);
    expect(restOf({ hours: null, batteryAbove: null }, 0, 1)).toBeNull();
  });

  it('knows a time of day', () => {
    expect(['00:00', '09:30', '23:59', '24:00', '9:30', '12:60'].map((clock) => CLOCK.test(clock))).toEqual([
      true,
      true,
      true,
      false,
      false,
      false,
    ]);
  });
});
