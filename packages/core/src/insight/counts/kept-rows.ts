import type { DeskColumns } from './desk-columns.js';
import { asksNow } from './kept-sums.js';
import type { KeptStretches, Making } from './kept-stretches.js';
import { shapeOf } from './counting.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type Chooser, chooserOf, type Selection } from './select.js';
import { LEAST_STRETCH } from './stamps.js';

/** Rows of a selection as {@link select} finds them, out of what was kept of a question asked before; null where these columns cannot answer the plan. */
export function selectKept(
  columns: DeskColumns,
  { looking, plan }: { readonly looking: Looking; readonly plan: Plan },
  kept: KeptStretches | null,
): Selection | null {
  const chooser = chooserOf(columns, looking, plan);
  if (!chooser) return null;
  const whole = { first: 0, end: columns.incidents.length };
  if (!kept || chooser.others.some(asksNow)) return chooser.choose(whole, 'whole');
  const rows = columns.room('kept-rows', whole.end);
  let found = 0;
  const isTaken = kept.take(makingOfRows(chooser), {
    kept: (parts, { first }) => {
      for (const [at, places] of parts.entries()) {
        const start = first + at * LEAST_STRETCH;
        for (let place = 0; place < places.length; place += 1) rows[found++] = start + (places[place] ?? 0);
      }
    },
    rows: (stretch) => {
      const selected = chooser.choose(stretch, 'stretch').rows;
      rows.set(selected, found);
      found += selected.length;
    },
  });
  if (!isTaken) return chooser.choose(whole, 'whole');
  return { looking, rows: rows.subarray(0, found), matches: null, extent: { from: -Infinity, to: Infinity } };
}

/** Places of rows within each of the shortest stretches; longer ones hold those of their parts. */
const makingOfRows = (chooser: Chooser): Making<readonly Uint16Array[]> => ({
  name: `rows ${shapeOf(chooser)}`,
  chooser,
  whole: chooser.ranges,
  counted: (stretch) => [
    Uint16Array.from(chooser.choose(stretch, 'stretch').rows, (row) => row - stretch.first),
  ],
  joined: (parts) => parts.flat(),
  // Longer stretches hold the very places of their parts: only what points to them is theirs.
  bytesOf: (parts) => (parts.length === 1 ? (parts[0]?.byteLength ?? 0) : parts.length * 8),
});
