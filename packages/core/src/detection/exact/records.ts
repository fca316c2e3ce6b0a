import { certaintyOfSum } from '../model/evidence.js';
import type { Finding } from '../model/finding.js';
import type { RecordsPattern } from '../model/pattern.js';
import type { SearchText } from '../../text/search-text.js';
import type { RawOffset, SearchOffset } from '../../shared/brand.js';
import { bareValue } from '../model/specimens.js';
import type { RecordIndex } from './index-of-records.js';
import { RecordMatcher } from './matcher.js';

/** The hashes of one set of records, with the key that made them. */
export interface RecordSource {
  readonly index: RecordIndex;
  readonly key: Uint8Array;
}

/** Log-odds of a key by itself among a million records, and of each column near it: chance agrees with neither. */
const KEY_WEIGHT = 3;
const COLUMN_WEIGHT = 3;

/** Finds records in a text; starts of its runs with digits spare another pass over it. */
export type FindRecords = (search: SearchText, digitRuns: Int32Array | null) => Finding[];

/** Looks for the records of all patterns whose hashes are at hand; the others find nothing. */
export function recordFinder(
  patterns: readonly RecordsPattern[],
  sources: ReadonlyMap<string, RecordSource>,
): FindRecords {
  const matchers = patterns.flatMap((pattern) => {
    const source = sources.get(pattern.id);
    return source
      ? [{ pattern, matcher: new RecordMatcher(source.index, source.key), shape: source.index.shape }]
      : [];
  });
  return (search, digitRuns) =>
    matchers.flatMap(({ pattern, matcher, shape }) =>
      matcher.find(search, digitRuns).map(({ start, end, columns }): Finding => {
        // The names of the columns are told, never what stands in them.
        const detail = [shape.key.name, ...columns.map((column) => shape.others[column]?.name ?? '')].join(
          ', ',
        );
        const weight = KEY_WEIGHT + COLUMN_WEIGHT * columns.length;
        return {
          pattern: pattern.id,
          start: search.toRaw(start as SearchOffset) as RawOffset,
          end: search.toRawEnd(end as SearchOffset) as RawOffset,
          certainty: certaintyOfSum(weight),
          evidence: [{ code: 'record', weight, detail }],
          canonical: bareValue(search.text.slice(start, end)),
          rivals: [],
        };
      }),
    );
}
