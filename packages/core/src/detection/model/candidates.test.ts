import { READY_PATTERNS } from '../library/index.js';
import { compileScanner } from '../scan/scanner.js';
import { certaintyOf } from './evidence.js';
import { certaintyFor, type Finding } from './finding.js';
import { packFindings, unpackFindings } from './packed-findings.js';

const scanner = compileScanner(READY_PATTERNS);
const at = (text: string, value: string): Finding => {
  const start = text.indexOf(value);
  const found = scanner.scan(text).findings.find((finding) => finding.start === start);
  if (!found) throw new Error(`Nothing is found at "${value}"`);
  return found;
};
const shares = ({ candidates = [] }: Finding): Record<string, number> =>
  Object.fromEntries(candidates.map(({ pattern, share }) => [pattern, share]));

describe('a number beside a name that many countries have', () => {
  it('is certain for the country whose check digits it passes', () => {
    // A made-up PESEL with its check digit that passes no other country’s check; the ministry's examples are test values, which weigh less.
    const found = at('ID number 85071510001 of the guest', '85071510001');
    expect(certaintyFor(found, 'pl-pesel')).toBeGreaterThanOrEqual(80);
  });

  it('counts once, as what it is of any country in full and of each country by its share', () => {
    const text = 'passport number 860806396';
    const { findings } = scanner.scan(text);
    expect(findings).toHaveLength(1);
    const [found] = findings as [Finding];
    expect(certaintyFor(found, 'passport-number')).toBeGreaterThanOrEqual(90);
    const countries = Object.entries(shares(found)).filter(([pattern]) => pattern !== 'passport-number');
    expect(countries.length).toBeGreaterThanOrEqual(2);
    expect(countries.reduce((sum, [, share]) => sum + share, 0)).toBeLessThanOrEqual(1);
    for (const [pattern] of countries) expect(certaintyFor(found, pattern)).toBeLessThan(50);
  });

  it.each([
    [
      'a country that the text names',
      'documento nacional de identidad: 44839728, Lima, Perú',
      'pe-dni',
      'ar-dni',
    ],
    [
      'a country that the text names',
      'documento nacional de identidad: 44839728, Argentina',
      'ar-dni',
      'pe-dni',
    ],
  ])('goes to %s: %s', (_why, text, likely, unlikely) => {
    const found = at(text, '44839728');
    expect(certaintyFor(found, likely)).toBeGreaterThanOrEqual(80);
    expect(certaintyFor(found, unlikely)).toBeLessThan(20);
  });

  it('goes to the countries in which the organisation is at home', () => {
    const text = 'documento nacional de identidad: 44839728';
    const atHome = compileScanner(READY_PATTERNS, new Map(), new Map(), new Set(['PE']));
    const certainty = (each: typeof scanner): number =>
      certaintyFor(each.scan(text).findings[0] as Finding, 'pe-dni');
    expect(certainty(scanner)).toBeLessThan(60);
    expect(certainty(atHome)).toBeGreaterThanOrEqual(80);
  });

  it('is one certain number again where its own name stands beside it', () => {
    expect(at('Lisbon: NIF 501442600', '501442600').candidates).toBeUndefined();
  });

  it('keeps a pattern of any country whole beside a country that is named', () => {
    const found = at('uk passport 941966980', '941966980');
    expect(certaintyFor(found, 'passport-number')).toBeGreaterThanOrEqual(90);
    expect(certaintyFor(found, 'gb-passport')).toBeGreaterThanOrEqual(90);
  });

  it('keeps its candidates on the way between processes', () => {
    const { findings } = scanner.scan('passport number 860806396, passport number 123456782');
    const again = unpackFindings(packFindings(findings));
    expect(again.map(shares).map((each) => Object.keys(each))).toEqual(
      findings.map(shares).map((each) => Object.keys(each)),
    );
    expect(certaintyFor(again[0] as Finding, 'gb-passport')).toBe(
      certaintyFor(findings[0] as Finding, 'gb-passport'),
    );
  });

  it.each([
    'ID number 44051401458 of the guest',
    'passport number 860806396',
    'uk passport 941966980',
    'documento nacional de identidad: 44839728',
    'Kontonummer: 86011117947',
    'Tax ID 501442600',
  ])('says in its evidence how certain it is: %s', (text) => {
    const { findings } = scanner.scan(text);
    expect(findings.length).toBeGreaterThan(0);
    for (const { evidence, certainty } of findings) expect(certaintyOf(evidence)).toBe(certainty);
  });
});
