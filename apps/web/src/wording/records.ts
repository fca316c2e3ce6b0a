import type { RecordsDetail } from '@lantern/contracts';
import type { ColumnKind } from '@lantern/core/detection';

export const COLUMN_WORDS: Readonly<Record<ColumnKind, string>> = {
  number: 'a number or code',
  mail: 'a mail address',
  phone: 'a telephone number',
  name: 'a name',
  date: 'a date',
  free: 'other text',
};

const count = (number: number): string => number.toLocaleString('en');

/** What became of an import, a sentence each; nothing is dropped without being said. */
export function reportSentences(report: RecordsDetail['report']): string[] {
  const said: [number | undefined, string][] = [
    [report.withoutKey, 'rows have no usable key and were skipped'],
    [report.keyTooCommon, 'rows were skipped because too many share the same key'],
    [report.repeated, 'rows repeat another one'],
    [report.ragged, 'rows are longer or shorter than the headings; their values were imported'],
    [report.overLimit, 'rows beyond the first million were skipped'],
  ];
  return [
    `${count(report.records)} records are looked for, of ${count(report.rows)} rows.`,
    ...said.flatMap(([number, words]) => (number ? [`${count(number)} ${words}.`] : [])),
    ...report.columns.flatMap(({ name, usable, tooCommon }) =>
      tooCommon
        ? [
            `${name} is too common: ${usable === 0 ? 'no record has' : `only ${Math.round(usable * 100)} % of the records have`} a value of it that tells one from another, and the common ones never count.`,
          ]
        : [],
    ),
  ];
}
