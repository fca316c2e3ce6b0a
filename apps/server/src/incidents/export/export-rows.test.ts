import type { IncidentRow } from '@lantern/contracts';
import Papa from 'papaparse';
import { writerOf } from './export-rows.js';

const row = (more: Partial<IncidentRow> = {}): IncidentRow => ({
  number: 7,
  at: '2026-11-30T08:00:00.000Z',
  status: 'new',
  outcome: null,
  severity: 'high',
  urgency: 61,
  answer: 'block',
  channel: 'mail',
  person: { name: 'Ada', address: 'ada@merrow.example', department: 'Freight' },
  destinations: ['broker.example'],
  recipients: 1,
  counts: [{ pattern: 'payment-card', findings: 2, distinct: 2, certainty: 99 }],
  unreadableParts: 0,
  matches: 1,
  assignee: null,
  title: 'Refunds',
  machine: null,
  dueAt: null,
  overdue: false,
  case: null,
  test: false,
  silent: false,
  reported: false,
  origin: null,
  version: 1,
  ...more,
});
const csvOf = (rows: readonly IncidentRow[]) => {
  const writer = writerOf('incidents', 'csv');
  const { data } = Papa.parse<Record<string, string>>(`${writer?.head}${writer?.write(rows)}`.trim(), {
    header: true,
  });
  return data;
};

// OWASP, CSV Injection: cells that begin with one of these are run by spreadsheets.
it.each(['=1+1', '+1', '-1', '@SUM(1)', '\t=1', '\r=1'])(
  'writes %j so that no spreadsheet runs it',
  (title) => {
    expect(csvOf([row({ title })])[0]?.['title']).toMatch(/^'/u);
  },
);

it('keeps commas, quotation marks and line breaks in their cell (RFC 4180)', () => {
  const title = 'a, "b"\nc';
  expect(csvOf([row({ title }), row()]).map((one) => one['title'])).toEqual([title, 'Refunds']);
});

it('takes out marks that turn the direction of writing', () => {
  const person = { name: 'Ada\u202Egnp.exe', address: 'ada@merrow.example', department: '' };
  expect(csvOf([row({ person })])[0]?.['name']).toBe('Adagnp.exe');
});

it('writes findings of OCSF with the ids of its class', () => {
  const writer = writerOf('incidents', 'ocsf');
  const lines = writer
    ?.write([row(), row({ status: 'decided', outcome: 'harm', severity: 'critical' })])
    .trim()
    .split('\n');
  const [open, decided] = (lines ?? []).map((line) => JSON.parse(line) as Record<string, unknown>);
  // type_uid is class_uid × 100 + activity_id (OCSF, "type_uid").
  for (const one of [open, decided])
    expect(one?.['type_uid']).toBe(Number(one?.['class_uid']) * 100 + Number(one?.['activity_id']));
  expect([
    open?.['severity_id'],
    decided?.['severity_id'],
    open?.['status_id'],
    decided?.['status_id'],
  ]).toEqual([4, 5, 1, 4]);
  expect(writerOf('matches', 'ocsf')).toBeNull();
});
