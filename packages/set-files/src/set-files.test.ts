import { EXCHANGES, ORGANISATION, POLICIES, SLACKWATER, SPOTS, TEXTS } from '@lantern/demo';
import { chance, policyOf, ruleOf, someSet, SOME_TEXT } from '@lantern/testkit';
import type { OwnPattern } from '@lantern/core/detection';
import type { PatternId } from '@lantern/core/shared';
import type { SetText } from './files.js';
import { type Known, readSet } from './read.js';
import { slug, type WholeSet, writeSet } from './write.js';

const demo: WholeSet = {
  policies: POLICIES,
  texts: TEXTS,
  exchanges: EXCHANGES,
  spots: SPOTS,
  patterns: [SLACKWATER],
  domains: ORGANISATION.domains,
};
const nothing: Known = { patterns: [], idFor: (kind, name) => `new ${kind} ${name}` };
const read = (files: readonly SetText[], known = nothing) => readSet(files, known);
const faults = (files: readonly SetText[], known = nothing): string[] => {
  const reading = read(files, known);
  return reading.status === 'faulty'
    ? reading.faults.map(({ path, line, message }) => `${path}:${line ?? ''} ${message}`)
    : [];
};
const bySlug = <Thing extends { readonly name: string }>(things: readonly Thing[]): Thing[] =>
  [...things].sort((left, right) => (slug(left.name) < slug(right.name) ? -1 : 1));
const files = writeSet(demo);
const replaced = (path: string, change: (text: string) => string): SetText[] =>
  files.map((file) => (file.path.includes(path) ? { ...file, text: change(file.text) } : file));

describe('a set as files', () => {
  it('reads back as it was, in the same order of policies', () => {
    const reading = read(files);
    if (reading.status !== 'read') throw new Error(faults(files).join('\n'));
    expect(reading.set.policies).toEqual(POLICIES);
    expect(reading.set.texts).toEqual(bySlug(TEXTS));
    expect(reading.set.exchanges).toEqual(bySlug(EXCHANGES));
    expect(reading.set.patterns).toEqual([SLACKWATER]);
    expect(reading.set.domains).toEqual(ORGANISATION.domains);
  });

  it('gives the same bytes every time, also after being read', () => {
    const reading = read(files);
    expect(reading.status === 'read' && writeSet(reading.set)).toEqual(files);
    expect(writeSet(structuredClone(demo))).toEqual(files);
  });

  it('speaks of own things by their names and leaves out what is the usual', () => {
    const first = files.find(
      ({ path }) => path === 'policies/001-passenger-payment-data-leaves-by-mail.yaml',
    );
    expect(first?.text).toContain('text: Refunds go through the portal');
    expect(first?.text).toContain('- Card lists to the card processor');
    expect(first?.text).not.toMatch(/silence|keep:|shared|treatments/);
    expect(files.find(({ path }) => path.startsWith('policies/003'))?.text).toContain(
      'pattern: Ship purchase Slackwater',
    );
  });

  it('holds any set (seed 31)', () => {
    const random = chance(31);
    const patterns = ['card', 'iban', 'words'].map((id) => ({ id, name: `The ${id}` }));
    for (let round = 0; round < 120; round += 1) {
      const set = { ...someSet(random), patterns: [], domains: [] };
      const reading = read(writeSet(set), { ...nothing, patterns });
      if (reading.status !== 'read') throw new Error(JSON.stringify(reading.faults));
      expect(reading.set.policies).toEqual(set.policies);
    }
  });

  it('keeps two things apart whose names give one path', () => {
    const twice = [
      policyOf('a', [ruleOf('1')], { name: 'Über' }),
      policyOf('b', [ruleOf('2')], { name: 'uber!' }),
    ];
    const texts = [
      SOME_TEXT,
      { ...SOME_TEXT, id: 'other-text-id' as typeof SOME_TEXT.id, name: 'use the PORTAL' },
    ];
    const written = writeSet({ policies: twice, texts, exchanges: [], spots: [], patterns: [], domains: [] });
    expect(new Set(written.map(({ path }) => path)).size).toBe(written.length);
    expect(slug('Œuvre: été 2026 / 日本')).toBe('œuvre-ete-2026-日本');
  });

  it('names patterns that stay on their server, and holds the others whole', () => {
    const own: OwnPattern[] = [
      {
        origin: 'adjusted',
        id: 'iban' as PatternId,
        name: 'International bank account number (IBAN)',
        weights: { shape: -2 },
      },
      {
        origin: 'expression',
        id: 'e' as PatternId,
        name: 'Voyage',
        kind: 'own-expression',
        about: '',
        expression: 'MSV-\\d{6}',
        caseMatters: true,
        check: 'none',
        namingWords: ['voyage'],
        supportingWords: [],
        counterWords: [],
        wordDistance: 40,
        exclusions: { values: ['MSV-000000'], words: [], ranges: [] },
        weights: { shape: 1, namingWord: 3, supportingWord: 1, counterWord: -3 },
      },
      { ...SLACKWATER, threshold: 6, inside: true },
      {
        origin: 'documents',
        id: 'd' as PatternId,
        name: 'Contracts',
        kind: 'own-documents',
        about: '',
        learns: 'category',
        leastShare: 0.5,
      },
    ];
    const reading = read(writeSet({ ...demo, policies: [], patterns: own }));
    if (reading.status !== 'read') throw new Error(JSON.stringify(reading.faults));
    expect(bySlug(reading.set.patterns)).toEqual(bySlug(own.filter(({ origin }) => origin !== 'documents')));
    expect(reading.elsewhere).toEqual([{ id: 'd', name: 'Contracts' }]);
  });
});

describe('a set with faults', () => {
  it.each<[string, string, (text: string) => string, string]>([
    ['an unknown field', 'policies/001', (text) => `${text}colour: red\n`, 'colour is not a field here'],
    [
      'a wrong type',
      'policies/001',
      (text) => text.replace('minutes: 60', 'minutes: soon'),
      'rules.0.ask.minutes must be number',
    ],
    [
      'an answer nobody gives',
      'policies/001',
      (text) => text.replace('answer: ask', 'answer: shout'),
      'rules.0.bands.1.answer must be one of',
    ],
    [
      'a reference to nothing',
      'policies/001',
      (text) => text.replace('text: Refunds go', 'text: Nothing goes'),
      'there is no text "Nothing goes through the portal"',
    ],
    [
      'a pattern that is gone',
      'policies/003',
      (text) => text.replace('pattern: Ship', 'pattern: Boat'),
      'there is no pattern "Boat purchase Slackwater"',
    ],
    ['broken YAML', 'texts/not', (text) => `${text}  - : [`, ''],
    ['a list in place of fields', 'texts/not', () => '- a\n- b\n', 'must hold fields'],
    ['the same field twice', 'texts/not', (text) => `${text}name: again\n`, 'Map keys must be unique'],
    ['another format', 'set.yaml', () => 'format: something else\n', 'format must be'],
  ])('names %s with its file and line', (_name, path, change, message) => {
    const [first] = faults(replaced(path, change));
    expect(first).toMatch(new RegExp(`${path}.*:\\d+ `));
    expect(first).toContain(message);
  });

  it('names the very line', () => {
    const text = files.find(({ path }) => path.startsWith('policies/001'))?.text ?? '';
    const line = text.split('\n').findIndex((each) => each.includes('minutes: 60')) + 1;
    expect(
      faults(replaced('policies/001', (given) => given.replace('minutes: 60', 'minutes: soon')))[0],
    ).toContain(`:${line} `);
  });

  it('knows two of one name', () => {
    const [some] = files.filter(({ path }) => path.startsWith('texts/'));
    const twice = [...files, { path: 'texts/zz.yaml', text: (some?.text ?? '').replace(/^id:.*\n/m, '') }];
    expect(faults(twice)).toEqual([
      expect.stringMatching(/^texts\/zz\.yaml:\d+ name .* stands in texts\/.* too$/),
    ]);
  });

  it('refuses files that expand without end, and files without end', () => {
    const bomb = `a: &a [x,x,x,x,x,x,x,x,x]\n${'bcdefgh'
      .split('')
      .map(
        (name, index) =>
          `${name}: &${name} [${Array(9)
            .fill(`*${'abcdefgh'[index] ?? 'a'}`)
            .join(',')}]`,
      )
      .join('\n')}\n`;
    expect(faults(replaced('texts/not', () => bomb))[0]).toMatch(/alias/i);
    expect(faults(replaced('texts/not', () => 'x'.repeat(8_000_001)))[0]).toContain('longer than');
  });

  it('refuses ten thousand rules in one policy', () => {
    const rules = Array.from({ length: 10_000 }, (_each, index) => ruleOf(`r${index}`));
    const big = writeSet({ ...demo, policies: [policyOf('p', rules)], texts: [SOME_TEXT] });
    expect(faults(big)[0]).toMatch(/rules must NOT have more than 200 items/);
  });

  it('refuses an expression that cannot be made safe', () => {
    const text =
      'pattern: expression\nname: Bad\nexpression: "(a)\\\\1"\nweights: {shape: 1, namingWord: 1, supportingWord: 1, counterWord: 1}\n';
    expect(faults([...files, { path: 'patterns/bad.yaml', text }])[0]).toMatch(
      /^patterns\/bad\.yaml:3 the expression is refused/,
    );
  });

  it('misses the head of a set', () =>
    expect(faults(files.filter(({ path }) => path !== 'set.yaml'))).toEqual([
      expect.stringContaining('set.yaml: is missing'),
    ]));

  it('passes over files that are none of its own', () =>
    expect(
      faults([...files, { path: 'README.md', text: '# {' }, { path: 'policies/notes.txt', text: '{' }]),
    ).toEqual([]));
});
