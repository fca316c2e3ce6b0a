/** The order of matches against sorting by the library, over rows of several runs. */
import { chance } from '@lantern/testkit';
import { DeskColumns } from './desk-columns.js';
import { beginsInOrder } from './in-order.js';

it.each([1, 2, 7, 400])('puts incidents of %d runs in the order of their times', (runs) => {
  const random = chance(11 + runs);
  const columns = new DeskColumns();
  const count = 2_000;
  for (let at = 0; at < count; at += 1) {
    const time = Math.floor(at / Math.ceil(count / runs)) * -3 + (at % Math.ceil(count / runs));
    columns.putIncident({ number: count - at, values: { time }, traits: [], matches: [] });
  }
  const incidents = Array.from({ length: count }, (_, row) => row).filter(() => random.whole(0, 3) > 0);
  const rows = Uint32Array.from(incidents.flatMap((row) => Array.from({ length: 1 + (row % 3) }, () => row)));
  const [time, number] = [columns.incidents.column('time').data, columns.incidents.column('number').data];
  const expected = [...incidents].sort(
    (one, other) => (time[one] ?? 0) - (time[other] ?? 0) || (number[one] ?? 0) - (number[other] ?? 0),
  );
  const begins = beginsInOrder(columns, rows);
  expect([...begins].map((begin) => rows[begin])).toEqual(expected);
  expect([...begins].every((begin) => begin === 0 || rows[begin - 1] !== rows[begin])).toBe(true);
});

it('has nothing to order among no rows', () => {
  expect(beginsInOrder(new DeskColumns(), new Uint32Array(0))).toHaveLength(0);
});
