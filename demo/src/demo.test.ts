import { chance, luhnDigit } from '@lantern/testkit';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { setProblems } from '@lantern/core/policy';
import { trackingList } from './documents.js';
import { directory, ORGANISATION, PARTNERS } from './directory.js';
import { EXCHANGES, POLICIES, SLACKWATER, SPOTS, TEXTS } from './policies.js';
import { traffic } from './traffic.js';

describe('the demo scenario', () => {
  it('has about 120 people in six ports, every address once and inside', () => {
    const people = directory();
    expect(people.length).toBeGreaterThanOrEqual(115);
    expect(new Set(people.map((person) => person.address)).size).toBe(people.length);
    expect(new Set(people.map((person) => person.port)).size).toBe(6);
    expect(people.every((person) => person.address.endsWith(`@${ORGANISATION.domains[0]}`))).toBe(true);
  });

  // RFC 2606, section 2: names under .example are set aside for documentation.
  it('names no domain that anybody could own', async () => {
    const mails = await traffic();
    const addresses = [...PARTNERS.map((partner) => partner.address), ...mails.flatMap((mail) => mail.to)];
    expect(addresses.filter((address) => !address.endsWith('.example'))).toEqual([]);
  });

  it('is the same every time', async () => {
    const [first, second] = await Promise.all([traffic(), traffic()]);
    expect(first.map((mail) => [mail.subject, mail.hoursAgo, mail.to])).toEqual(
      second.map((mail) => [mail.subject, mail.hoursAgo, mail.to]),
    );
    expect(first.length).toBeGreaterThan(700);
  });

  it('publishes a set that needs no mending, and of which every look is known', () => {
    const patterns = new Set<string>([SLACKWATER.id, ...READY_PATTERNS.map((pattern) => pattern.id)]);
    const people = directory();
    const known = {
      addresses: new Set(people.map(({ address }) => address)),
      groups: new Set(people.flatMap(({ groups }) => groups)),
      departments: new Set(people.map(({ department }) => department)),
      offices: new Set(people.map(({ port }) => port)),
    };
    const problems = setProblems(
      { policies: POLICIES, texts: TEXTS, exchanges: EXCHANGES, spots: SPOTS },
      { patterns, people: known, at: Date.parse('2026-11-01'), withoutSpecimens: new Set() },
    );
    expect(problems).toEqual([]);
  });

  it('computes check digits apart from the core', () => expect(luhnDigit('411111111111111')).toBe('1'));

  it('holds parcel lists that nobody should take for cards', () => {
    const scanner = compileScanner(READY_PATTERNS);
    const random = chance(9);
    for (let round = 0; round < 50; round += 1) {
      const { findings } = scanner.scan(Buffer.from(trackingList(random).bytes).toString());
      expect(findings.filter((finding) => finding.certainty >= 50)).toEqual([]);
    }
  });
});
