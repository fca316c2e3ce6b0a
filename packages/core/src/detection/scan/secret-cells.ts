import type { SearchText } from '../../text/search-text.js';
import type { Tables } from '../../text/tables.js';
import type { Survivor } from '../model/passed.js';
import type { Prepared } from '../model/prepared.js';
import { NAMING } from '../model/context.js';
import { secretLook } from '../looks/look.js';
import { isPlaceholder, isReference } from '../looks/stand-ins.js';

/** A longer heading is a sentence or code that names it. */
const LONGEST_NAME = 40;
const IN_CODE = /[(){}<>=$|&;`]/;

/** Whether a heading is a name and no piece of a program. */
const isPlainHeading = (heading: string): boolean => heading.length <= LONGEST_NAME && !IN_CODE.test(heading);

/** A column whose heading names a pattern that takes whole cells. */
export interface NamedColumn {
  readonly prepared: Prepared;
  readonly block: number;
  readonly column: number;
  readonly heading: string;
}

/** Shorter cells hold a mark, longer ones a text. */
const SHORTEST_CELL = 4;
const LONGEST_CELL = 200;

/** The cells of such columns that look like a secret: no placeholder, no path, no name of a program. */
export function cellsUnder(columns: readonly NamedColumn[], search: SearchText, tables: Tables): Survivor[] {
  if (columns.length === 0) return [];
  const byBlock = new Map<number, NamedColumn[]>();
  for (const column of columns.filter(({ heading }) => isPlainHeading(heading)))
    byBlock.set(column.block, [...(byBlock.get(column.block) ?? []), column]);
  const survivors: Survivor[] = [];
  for (let line = 0; line < tables.lines; line += 1) {
    for (const column of byBlock.get(tables.blockOf[line] ?? 0) ?? []) {
      const survivor = cellOf(column, line, { search, tables });
      if (survivor) survivors.push(survivor);
    }
  }
  return survivors;
}

function cellOf(
  { prepared, column, heading }: NamedColumn,
  line: number,
  { search, tables }: { readonly search: SearchText; readonly tables: Tables },
): Survivor | undefined {
  const bounds = tables.cellOf(line, column);
  const whole = search.text.slice(...bounds);
  const written = whole.trim().replace(/^["']|["']$/g, '');
  if (written.length < SHORTEST_CELL || written.length > LONGEST_CELL) return undefined;
  if (/\s/.test(written) || isPlaceholder(written) || isReference(written, false)) return undefined;
  const start = bounds[0] + whole.indexOf(written);
  const context = {
    naming: null,
    general: null,
    supporting: null,
    counter: null,
    heading: { text: heading, role: NAMING },
    inside: null,
  };
  return {
    prepared,
    start,
    end: start + written.length,
    grouped: false,
    canonical: written,
    look: secretLook(written),
    context,
    slot: prepared.index,
  };
}
