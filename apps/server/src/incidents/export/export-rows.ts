import type { ExportFormat, IncidentRow, MatchRow, MovementRow } from '@lantern/contracts';
import type { Listed } from '@lantern/core/incidents';
import Papa from 'papaparse';

type AnyRow = IncidentRow | MatchRow | MovementRow;
type Cell = string | number | boolean | null;
type Columns<Row> = readonly (readonly [string, (row: Row) => Cell])[];

/** Person, title and destinations: the same columns in every list. */
const WHOSE: Columns<Pick<IncidentRow, 'person' | 'title' | 'destinations'>> = [
  ['person', (row) => row.person.address],
  ['name', (row) => row.person.name],
  ['department', (row) => row.person.department],
  ['title', (row) => row.title],
  ['destinations', (row) => row.destinations.join(' ')],
];

const INCIDENTS: Columns<IncidentRow> = [
  ['number', (row) => row.number],
  ['time', (row) => row.at],
  ['status', (row) => row.status],
  ['outcome', (row) => row.outcome],
  ['severity', (row) => row.severity],
  ['urgency', (row) => row.urgency],
  ['answer', (row) => row.answer],
  ['channel', (row) => row.channel],
  ...WHOSE,
  ['recipients', (row) => row.recipients],
  ['found', (row) => row.counts.map(({ pattern, distinct }) => `${distinct} ${pattern}`).join(', ')],
  ['matches', (row) => row.matches],
  ['assignee', (row) => row.assignee],
  ['due', (row) => row.dueAt],
  ['overdue', (row) => row.overdue],
  ['case', (row) => row.case],
  ['machine', (row) => row.machine],
  ['reported', (row) => row.reported],
  ['origin', (row) => row.origin],
  ['test', (row) => row.test],
];

const MATCHES: Columns<MatchRow> = [
  ['incident', (row) => row.incident],
  ['time', (row) => row.at],
  ['policy', (row) => row.policy],
  ['rule', (row) => row.rule],
  ['label', (row) => row.label],
  ['answer', (row) => row.answer],
  ['written', (row) => row.written],
  ['reducedBy', (row) => row.cut],
  ['severity', (row) => row.severity],
  ['channel', (row) => row.channel],
  ...WHOSE,
  ['status', (row) => row.status],
  ['outcome', (row) => row.outcome],
];

const MOVEMENTS: Columns<MovementRow> = [
  ['id', (row) => row.id],
  ['time', (row) => row.at],
  ['channel', (row) => row.channel],
  ['activity', (row) => row.activity],
  ...WHOSE,
  ['machine', (row) => row.machine],
  ['answer', (row) => row.answer],
  ['incident', (row) => row.incident],
  ['test', (row) => row.test],
];

/** Writes rows of one list in one format. */
export interface RowWriter {
  readonly contentType: string;
  readonly extension: string;
  /** What stands before the first row. */
  readonly head: string;
  readonly write: (rows: readonly AnyRow[]) => string;
}

/** The writer of a list; OCSF exists for incidents alone, since matches and movements are no findings of their own. */
export function writerOf(listed: Listed, format: ExportFormat): RowWriter | null {
  const columns = (
    listed === 'incidents' ? INCIDENTS : listed === 'matches' ? MATCHES : MOVEMENTS
  ) as Columns<AnyRow>;
  switch (format) {
    case 'csv':
      return {
        contentType: 'text/csv; charset=utf-8',
        extension: 'csv',
        head: `${columns.map(([name]) => name).join(',')}\r\n`,
        write: (rows) => csv(rows.map((row) => columns.map(([, cell]) => cell(row)))),
      };
    case 'jsonl':
      return {
        contentType: 'application/jsonl; charset=utf-8',
        extension: 'jsonl',
        head: '',
        write: (rows) => rows.map((row) => `${JSON.stringify(row)}\n`).join(''),
      };
    case 'ocsf':
      return listed === 'incidents'
        ? {
            contentType: 'application/jsonl; charset=utf-8',
            extension: 'ocsf.jsonl',
            head: '',
            write: (rows) =>
              (rows as readonly IncidentRow[]).map((row) => `${JSON.stringify(toOcsf(row))}\n`).join(''),
          }
        : null;
  }
}

/** RFC 4180. A cell that a spreadsheet would run as a formula begins with an apostrophe, so that it is text there. */
export function csv(rows: readonly (readonly Cell[])[]): string {
  const safe = rows.map((cells) =>
    cells.map((cell) => (typeof cell === 'string' ? withoutTurns(cell) : cell)),
  );
  return rows.length === 0 ? '' : `${Papa.unparse(safe, { escapeFormulae: true, newline: '\r\n' })}\r\n`;
}

/** Marks that turn the direction of writing make one name look like another (Unicode Technical Report 36, 2.6). */
const withoutTurns = (text: string): string =>
  text.replaceAll(/[\u202A-\u202E\u2066-\u2069\u200E\u200F]/gu, '');

const SEVERITY_IDS = { low: 2, medium: 3, high: 4, critical: 5 } as const;
const STATUS_IDS = { new: 1, taken: 2, waiting: 2, decided: 4 } as const;

/** An incident as a Data Security Finding (class 2006) of OCSF 1.3. Class and ids from memory of the schema. */
function toOcsf(row: IncidentRow): object {
  const time = Date.parse(row.at);
  return {
    category_uid: 2,
    class_uid: 2006,
    activity_id: row.status === 'decided' ? 3 : 1,
    type_uid: row.status === 'decided' ? 200603 : 200601,
    time,
    severity_id: SEVERITY_IDS[row.severity],
    status_id: STATUS_IDS[row.status],
    ...(row.outcome ? { status_detail: row.outcome } : {}),
    is_alert: true,
    metadata: { version: '1.3.0', product: { name: 'Uncut Lantern', vendor_name: 'Uncut Lantern' } },
    finding_info: {
      uid: String(row.number),
      title: row.title ?? `Incident ${row.number}`,
      created_time: time,
      types: row.counts.map(({ pattern }) => pattern),
    },
    actor: { user: { email_addr: row.person.address, name: row.person.name } },
    ...(row.machine ? { device: { hostname: row.machine, type_id: 0 } } : {}),
    data_security: {
      detection_pattern: row.counts.map(({ pattern }) => pattern).join(', '),
      data_lifecycle_state_id: 2,
    },
    unmapped: {
      answer: row.answer,
      channel: row.channel,
      destinations: row.destinations,
      urgency: row.urgency,
      counts: row.counts,
      assignee: row.assignee,
      case: row.case,
    },
  };
}
