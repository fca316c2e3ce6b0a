import { deskPath } from './desk-path.js';
/** The filter grammar against RFC 7644, section 3.4.2.2: its precedence, its operators, and lines that are wrong. */
import { chance } from '@lantern/testkit';
import { completeFilter } from './complete.js';
import { FIELD_NAMES, fieldOf, operatorsOf } from './fields.js';
import { type Filter, MAX_FILTER_LENGTH } from './filter.js';
import { type FilterFacts, filterHolds } from './holds.js';
import { parseFilter } from './parse.js';
import { allOf, chipOf, conjunctsOf, printFilter, toggled, withoutConjunct } from './print.js';
import { timeOf } from './times.js';

const NOW = Date.UTC(2026, 10, 30, 12);
const read = (line: string): Filter => {
  const parsed = parseFilter(line);
  if (parsed.status === 'faulty') throw new Error(`${parsed.fault.code} at ${parsed.fault.at}: ${line}`);
  return parsed.filter;
};
const facts: FilterFacts = {
  severity: 'high',
  destination: ['office@broker.example', 'Ada@Merrow.example'],
  person: 'ada@merrow.example',
  urgency: 71,
  overdue: true,
  time: NOW - 3 * 86_400_000,
};

describe('parseFilter', () => {
  it.each([
    ['severity eq "high" and destination ew ".example"', true],
    ['SEVERITY EQ "High"', true],
    ['severity ge "medium" and severity lt "critical"', true],
    ['severity gt "high"', false],
    ['person co "ADA@"', true],
    ['person sw "ada" and not (destination co "nowhere")', true],
    ['destination eq "ada@merrow.EXAMPLE"', true],
    ['destination ne "ada@merrow.example"', false],
    ['assignee pr', false],
    ['not (assignee pr)', true],
    ['urgency ge 71 and urgency le 71.0', true],
    ['overdue eq true', true],
    ['overdue ne true', false],
    ['time ge "10 days ago"', true],
    ['time ge "2 days ago"', false],
    ['time lt "2026-11-28"', true],
    // RFC 7644, table 5: "and" binds before "or".
    ['severity eq "low" and urgency eq 1 or person pr', true],
    ['severity eq "low" and (urgency eq 1 or person pr)', false],
    ['', true],
  ])('%s', (line, holds) => expect(filterHolds(read(line), facts, NOW)).toBe(holds));

  it.each([
    ['severty eq "high"', 'unknown-field', 0],
    ['severity is "high"', 'operator-expected', 9],
    ['severity co "high"', 'operator-not-for-field', 9],
    ['severity eq', 'value-expected', 11],
    ['severity eq high', 'value-expected', 12],
    ['severity eq "huge"', 'unknown-choice', 12],
    ['urgency eq "71"', 'wrong-kind', 11],
    ['overdue eq "yes"', 'wrong-kind', 11],
    ['person eq "ada', 'unclosed-text', 10],
    ['person eq "ada\\"', 'unclosed-text', 10],
    [String.raw`person eq "\x"`, 'bad-escape', 10],
    ['time ge "soon"', 'bad-time', 8],
    ['time ge "2026-02-30"', 'bad-time', 8],
    ['(person pr', 'unclosed-parenthesis', 0],
    ['person pr)', 'joiner-expected', 9],
    ['person pr severity pr', 'joiner-expected', 10],
    ['not person pr', 'parenthesis-expected', 4],
    ['person pr and', 'field-expected', 13],
    ['and person pr', 'unknown-field', 0],
    ['emails[type eq "work"]', 'field-expected', 0],
    ['()', 'field-expected', 1],
    ['any eq "x"', 'operator-not-for-field', 4],
    [`${'('.repeat(14)}person pr${')'.repeat(14)}`, 'too-deep', 13],
    [`person eq "${'x'.repeat(MAX_FILTER_LENGTH)}"`, 'too-long', MAX_FILTER_LENGTH],
    [Array.from({ length: 121 }, () => 'case pr').join(' or '), 'too-many-terms', 120 * 11],
  ])('says what is wrong with %.60s', (line, code, at) => {
    expect(parseFilter(line)).toMatchObject({ status: 'faulty', fault: { code, at } });
  });

  it('ends on a line of a megabyte and on deep nesting', () => {
    for (const line of ['('.repeat(1e6), '"'.repeat(1e6), '\\'.repeat(1e6), 'not ('.repeat(2e5)])
      expect(parseFilter(line).status).toBe('faulty');
    expect(parseFilter('not ('.repeat(1000)).status).toBe('faulty');
  });
});

describe('filters made at random, seed 7', () => {
  const random = chance(7);
  const values = {
    words: ['a', 'Ada "x"', 'ünï\\c', '', 'b@c.example'],
    number: [0, 3, 71.5],
    time: ['10 days ago', '2026-11-01'],
  };
  const make = (depth: number): Filter => {
    const kind =
      depth > 3 ? 'compare' : random.pick(['compare', 'compare', 'present', 'not', 'and', 'or'] as const);
    if (kind === 'not') return { kind, part: make(depth + 1) };
    if (kind === 'and' || kind === 'or')
      return { kind, parts: Array.from({ length: random.whole(2, 4) }, () => make(depth + 1)) };
    const field = random.pick(FIELD_NAMES.filter((name) => name !== 'any' && name !== 'title'));
    if (kind === 'present') return operatorsOf(field).includes('pr') ? { kind, field } : make(depth);
    const { kind: type, choices } = fieldOf(field);
    const operator = random.pick(operatorsOf(field).filter((one) => one !== 'pr'));
    const value = choices
      ? random.pick(choices)
      : type === 'yes-no'
        ? random.happens(0.5)
        : random.pick<string | number>(type === 'choice' ? ['a'] : values[type]);
    return { kind: 'compare', field, operator, value };
  };
  const filters = Array.from({ length: 600 }, () => make(0));

  it('are the same filter when their line is read again', () => {
    for (const filter of filters) {
      const line = printFilter(filter);
      const again = read(line);
      expect(printFilter(again)).toBe(line);
      expect(filterHolds(again, facts, NOW)).toBe(filterHolds(filter, facts, NOW));
    }
  });

  it('complete every prefix of their lines without a fault', () => {
    for (const filter of filters.slice(0, 60)) {
      const line = printFilter(filter);
      for (let cursor = 0; cursor <= line.length; cursor += 1) {
        const { from, to } = completeFilter(line, cursor);
        expect(from).toBeLessThanOrEqual(to);
      }
    }
  });
});

describe('chips', () => {
  it.each([
    ['severity eq "high"', { field: 'severity', excluded: false, values: ['high'] }],
    [
      '(severity eq "high" or severity eq "low")',
      { field: 'severity', excluded: false, values: ['high', 'low'] },
    ],
    ['severity ne "high"', { field: 'severity', excluded: true, values: ['high'] }],
    [
      'not (severity eq "high" or severity eq "low")',
      { field: 'severity', excluded: true, values: ['high', 'low'] },
    ],
    ['(severity eq "high" or person pr)', null],
    ['severity gt "low"', null],
  ])('reads %s', (line, chip) => expect(chipOf(read(line))).toEqual(chip));

  it('puts values of one field into one chip, moves them over and takes them out', () => {
    let filter = read('status ne "decided"');
    const say = (value: string, excluded = false) => {
      filter = toggled(filter, 'channel', { value, excluded });
      return printFilter(filter);
    };
    expect(say('mail')).toBe('status ne "decided" and channel eq "mail"');
    expect(say('chat')).toBe('status ne "decided" and (channel eq "mail" or channel eq "chat")');
    expect(say('mail', true)).toBe('status ne "decided" and channel eq "chat" and channel ne "mail"');
    expect(say('chat')).toBe('status ne "decided" and channel ne "mail"');
    expect(printFilter(withoutConjunct(filter, 0))).toBe('channel ne "mail"');
    expect(conjunctsOf(allOf([]))).toHaveLength(0);
  });
});

describe('completeFilter', () => {
  it.each([
    ['', 'severity', null],
    ['sev', 'severity', null],
    ['severity ', 'eq', null],
    ['severity eq ', '"high"', null],
    ['severity eq "cr', '"critical"', null],
    ['severity eq "high" ', 'and', null],
    ['person eq "a', undefined, 'person'],
    ['(person pr or ', 'severity', null],
  ])('%s', (line, option, valuesOf) => {
    const completion = completeFilter(line, line.length);
    if (option) expect(completion.options).toContain(option);
    expect(completion.valuesOf).toBe(valuesOf);
  });
});

it.each(['severity eq "high" and any co "a+b & c"', 'person co "É\ud800"'])('deskPath carries %j', (line) => {
  const { searchParams } = new URL(deskPath(line, 'matches'), 'http://x');
  expect(searchParams.get('filter')).toBe(line.replace('\ud800', '\ufffd'));
  expect(searchParams.get('list')).toBe('matches');
});

it.each([
  ['1 hour ago', NOW - 3_600_000],
  ['3 weeks ago', NOW - 21 * 86_400_000],
  ['2026-11-30T13:00:00+01:00', NOW],
  ['2024-02-29', Date.UTC(2024, 1, 29)],
  ['2023-02-29', null],
  ['yesterday', null],
  ['2026-11-30T06:46:16.212Z', Date.UTC(2026, 10, 30, 6, 46, 16, 212)],
  ['2026-11-30T06:46:16.2129999Z', Date.UTC(2026, 10, 30, 6, 46, 16, 212)],
])('timeOf %s', (text, at) => expect(timeOf(text, NOW)).toBe(at));
