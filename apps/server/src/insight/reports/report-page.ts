import { deskPath } from '@lantern/core/incidents';
import { type ComparedLine, isFirstRun, LINE_CHANGES } from '@lantern/core/insight';
import { escaped } from '../../incidents/export/case-page.js';
import { csv } from '../../incidents/export/export-rows.js';
import { CHANGE_NAMES, valueWords } from './report-words.js';

/** A report as it is printed and sent. */
export interface WrittenReport {
  readonly name: string;
  readonly from: Date;
  readonly to: Date;
  readonly missed: number;
  readonly lines: readonly ComparedLine[];
  /** Address of the workbench, for links. */
  readonly address: string;
}

const STYLE = `body{font:15px/1.5 system-ui,sans-serif;max-width:54rem;margin:2rem auto;padding:0 1rem;color:#1d2430}
table{border-collapse:collapse;width:100%}td,th{padding:.2rem .8rem .2rem 0;text-align:left;vertical-align:top;border-bottom:1px solid #ddd4c3}
h2{font-size:1rem;margin:1.4rem 0 .3rem}p.note{border-left:4px solid #bfb39c;padding-left:.7rem}@media print{a{color:inherit}}`;

const linkOf = ({ address }: WrittenReport, { filter, listed }: ComparedLine): string =>
  `${address}${deskPath(filter, listed)}`;

/** A page that reads and prints alone: no script, nothing is fetched. New, gone and changed lines stand first. */
export function reportPage(report: WrittenReport): string {
  const { name, lines } = report;
  const groups = LINE_CHANGES.map((change) => {
    const own = lines.filter((line) => line.change === change);
    if (own.length === 0) return '';
    const rows = own.map((line) => {
      const link = escaped(linkOf(report, line));
      return `<tr><td><a href="${link}">${escaped(line.name)}</a></td><td>${escaped(valueWords(line))}</td></tr>`;
    });
    return `<h2>${headOf(change, lines)}</h2><table>${rows.join('')}</table>`;
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(name)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<style>${STYLE}</style></head><body>
<h1>${escaped(name)}</h1>
<p>${escaped(periodWords(report))}</p>
${report.missed > 0 ? `<p class="note">${escaped(missedWords(report.missed))}</p>` : ''}
${groups.join('\n')}
${lines.length === 0 ? '<p>Nothing happened in this period.</p>' : ''}
</body></html>
`;
}

/** The lines as a table (RFC 4180), safe to open in a spreadsheet. */
export function reportTable(report: WrittenReport): string {
  const head = csv([['change', 'name', 'value', 'before', 'detail', 'link']]);
  return `${head}${csv(
    report.lines.map((line) => [
      ...[CHANGE_NAMES[line.change], line.name, line.value, line.before],
      ...[line.detail, linkOf(report, line)],
    ]),
  )}`;
}

/** The mail's own text: differences with their links, and how many lines are as before. */
export function reportText(report: WrittenReport): string {
  const differ = report.lines.filter(({ change }) => change !== 'same');
  const isFirst = isFirstRun(report.lines);
  const shown = isFirst ? report.lines : differ;
  const lines = shown.slice(0, MOST_IN_TEXT).map((line) => {
    const change = isFirst ? '' : `${CHANGE_NAMES[line.change]}: `;
    return `${change}${line.name}: ${valueWords(line)}\n  ${linkOf(report, line)}`;
  });
  const rest = shown.length - lines.length;
  const same = report.lines.length - differ.length;
  return [
    report.name,
    periodWords(report),
    ...(report.missed > 0 ? [missedWords(report.missed)] : []),
    '',
    ...(lines.length > 0 ? lines : ['Nothing differs from the last report.']),
    ...(rest > 0 ? [`${rest} more lines stand in the attachments.`] : []),
    ...(!isFirst && same > 0 ? ['', `${same} lines are as before.`] : []),
  ].join('\n');
}

/** Lines of a mail; the attachments have all of them. */
const MOST_IN_TEXT = 60;

const headOf = (change: ComparedLine['change'], lines: readonly ComparedLine[]): string =>
  isFirstRun(lines) ? 'First report' : CHANGE_NAMES[change];

function periodWords({ from, to }: WrittenReport): string {
  const written = (at: Date) => at.toISOString().slice(0, 16).replace('T', ' ');
  return `From ${written(from)} to ${written(to)} UTC.`;
}

function missedWords(missed: number): string {
  return missed === 1
    ? 'One planned report before this one was missed, because the server was not running. This one makes up for it.'
    : `${missed} planned reports before this one were missed, because the server was not running. This one makes up for them.`;
}
