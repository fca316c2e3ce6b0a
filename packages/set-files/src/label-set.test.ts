import { SLACKWATER, STARTER_LABELS } from '@lantern/demo';
import { labelProblems } from '@lantern/core/labels';
import { type LabelSetKnown, readLabelSet, writeLabelSet } from './label-set.js';

const patterns = [{ id: String(SLACKWATER.id), name: SLACKWATER.name }];
const known: LabelSetKnown = {
  patterns,
  knowsPatterns: true,
  idFor: (_kind, name) =>
    `00000000-0000-4000-8000-${Buffer.from(name).toString('hex').padEnd(12, '0').slice(0, 12)}`,
};
const text = writeLabelSet(STARTER_LABELS, patterns);
const faults = (given: string): string[] => {
  const reading = readLabelSet(given, known);
  return reading.status === 'faulty'
    ? reading.faults.map(({ line, message }) => `${line ?? ''} ${message}`)
    : [];
};

describe('a set of labels as a file', () => {
  it('reads back as it was, and gives the same bytes again', () => {
    const reading = readLabelSet(text, known);
    if (reading.status !== 'read') throw new Error(faults(text).join('\n'));
    expect(reading.set).toEqual(STARTER_LABELS);
    expect(writeLabelSet(reading.set, patterns)).toBe(text);
  });

  it('speaks of labels and patterns by their names and leaves out what is the usual', () => {
    expect(text).toContain('label: Sealed hold');
    expect(text).toContain('pattern: Ship purchase Slackwater');
    expect(text).not.toMatch(/retired|lowersPeople|kind: bare|slant: 0/);
  });

  it('has nothing that must be mended', () => {
    const problems = labelProblems(STARTER_LABELS, { people: null, patterns: null, places: null });
    expect(problems.filter(({ code }) => code !== 'no-handling' && code !== 'not-on-carrier')).toEqual([]);
  });

  it('is short for a stranger: a name and a rank make a label', () => {
    const reading = readLabelSet(
      'format: uncut-lantern labels 1\nlabels:\n  - name: Quay\n    rank: 5\noffers:\n  - name: All\n    carriers: [document]\n    labels: [quay]\n',
      known,
    );
    expect(reading.status === 'read' && reading.set).toMatchObject({
      labels: [{ name: 'Quay', rank: 5, handling: { read: { kind: 'anyone' } }, colour: '#5a6472' }],
      offers: [{ starts: { kind: 'bare' }, lowering: 'reason', people: { with: [], without: [] } }],
      automatic: [],
    });
  });

  it.each<[string, string, string]>([
    ['no YAML', 'labels: [', '1 '],
    ['no format', 'labels: []', 'has no format'],
    ['a later format', 'format: uncut-lantern labels 9', '1 format'],
    [
      'an unknown field',
      text.replace('rank: 100', 'rank: 100\n    colr: x'),
      'labels.0.colr is not a field here',
    ],
    ['a wrong type', text.replace('rank: 100', 'rank: high'), 'labels.0.rank must be number'],
    [
      'two labels of one name',
      text.replace('name: Ship’s company', 'name: open WATER'),
      'stands there twice',
    ],
    [
      'a reference to nothing',
      text.replace('label: Sealed hold', 'label: Sealed hatch'),
      'there is no label "Sealed hatch"',
    ],
    [
      'a pattern that is none',
      text.replace('pattern: iban', 'pattern: ibann'),
      'there is no pattern "ibann"',
    ],
    ['an id that is none', text.replace(/id: 3c9a7e10-5d2b-4f86-9b11-000000000001/, 'id: 7'), 'id must be'],
    ['an effect nobody knows', text.replace('take-out:', 'take-away:'), 'is not a field here'],
  ])('says what is wrong and where: %s', (_what, given, message) => {
    expect(faults(given).join('\n')).toContain(message);
    expect(faults(given).every((fault) => /^\d+ /.test(fault))).toBe(true);
  });
});
