/** Secrets in the places where people and programs leave them, beside what only looks like one. The aims are those of the product. */
import { chance, type SecretCase, secretCases } from '@lantern/testkit';
import { READY_PATTERNS } from '../library/index.js';
import type { Finding } from '../model/finding.js';
import { compileScanner } from '../scan/scanner.js';

const SEED = 20261129;
const LEVEL = 80;
const scanner = compileScanner(READY_PATTERNS);
const secretKinds = new Set<string>(
  READY_PATTERNS.filter(({ kind }) => kind === 'secrets').map(({ id }) => id),
);
const cases = secretCases(chance(SEED), 10);

const found = (text: string): Finding[] =>
  scanner
    .scan(text)
    .findings.filter(({ pattern, certainty }) => secretKinds.has(pattern) && certainty >= LEVEL);

const hits = ({ text, secret }: SecretCase, { start, end }: Finding): boolean => {
  const at = secret === null ? -1 : text.indexOf(secret);
  return at >= 0 && start < at + (secret ?? '').length && end > at;
};

describe('secrets', () => {
  const places = [...new Set(cases.filter(({ secret }) => secret !== null).map(({ place }) => place))];

  it.each(places)('in %s are found, 92 of 100 of them at 80 or more', (place) => {
    const planted = cases.filter((each) => each.place === place);
    const seen = planted.filter((each) => found(each.text).some((finding) => hits(each, finding)));
    expect(seen.length / planted.length).toBeGreaterThanOrEqual(0.92);
  });

  it('are what is found, 95 of 100 times', () => {
    const all = cases.flatMap((each) => found(each.text).map((finding) => hits(each, finding)));
    expect(all.length).toBeGreaterThan(500);
    expect(all.filter(Boolean).length / all.length).toBeGreaterThanOrEqual(0.95);
  });

  it.each([
    ['user,password,role\nines,harbour!44,admin\njon,Tide2026x,deck', ['harbour!44', 'Tide2026x']],
    ['Benutzer\tKennwort\nines\tharbour!44\njon\t(im Tresor)', ['harbour!44']],
    ['site;password;since\na;${SITE_PASSWORD};2026-01-02\nb;********;2026-01-03', []],
    ['rule;password policy\nlength;at least 12\nage;90 days', []],
  ])('stand in a column under their name: %j', (text, secrets) => {
    expect(found(text).map(({ start, end }) => text.slice(start, end))).toEqual(secrets);
  });
});
