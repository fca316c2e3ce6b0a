import { parseFilter, filterHolds } from '@lantern/core/incidents';
import type { KnownNames } from '../incidents/known-names.service.js';
import { routingFacts } from './routing-facts.js';

type Incident = Parameters<typeof routingFacts>[0];

const names = {
  nameOf: (_kind: string, id: string) => (id === 'r2' ? 'Payroll' : id),
} as unknown as KnownNames;
const incident = (more: Partial<Incident> = {}): Incident =>
  ({
    at: new Date(1_000),
    personAddress: 'ada@merrow.example',
    personName: 'Ada',
    severity: 'critical',
    firstSeverity: 'critical',
    answer: 'block',
    urgency: 70,
    openSeverity: 'low',
    openUrgency: 20,
    openAnswer: 'note',
    department: 'Freight',
    channel: 'mail',
    status: 'new',
    silent: false,
    managed: null,
    test: false,
    ...more,
  }) as Incident;
const traits = [
  { field: 'rule' as const, value: 'r1', silent: false },
  { field: 'rule' as const, value: 'r2', silent: true },
  { field: 'title' as const, value: 'digest', silent: false },
];
const holds = (line: string, facts: Parameters<typeof filterHolds>[1]) => {
  const parsed = parseFilter(line);
  return parsed.status === 'read' && filterHolds(parsed.filter, facts, 2_000);
};

it.each([
  ['rule eq "payroll"', true, false],
  ['rule eq "r2"', true, false],
  ['rule eq "r1" and department eq "freight"', true, true],
  ['severity eq "critical"', true, false],
  ['severity eq "low" and answer eq "note"', false, true],
  ['managed eq false', false, false],
  ['overdue eq false and status eq "new"', true, true],
])('%s holds whole: %p, without silent rules: %p', (line, wholly, openly) => {
  const { whole, open } = routingFacts(incident(), { number: 1, traits, names });
  expect([holds(line, whole), open !== null && holds(line, open)]).toEqual([wholly, openly]);
});

it('has nothing for those outside where only silent rules held', () => {
  expect(routingFacts(incident({ silent: true }), { number: 1, traits, names }).open).toBeNull();
});
