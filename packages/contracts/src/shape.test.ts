import 'reflect-metadata';
import type { Policy } from '@lantern/core/policy';
import { chance, findingsAsked, policyOf, ruleOf, someSet } from '@lantern/testkit';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { SavePolicyRequest } from './policies.js';
import { shapeFault } from './shape.js';

const bare = ({ id: _id, ...policy }: Policy): object => structuredClone(policy);
const rule = structuredClone(ruleOf('r'));
const said = (over: object): string => {
  const fault = shapeFault('policy', { name: 'Cards', rules: [{ ...structuredClone(rule), ...over }] });
  return fault ? `${fault.path.join('.')} ${fault.message}` : '';
};

describe('shapeFault', () => {
  it('takes every policy the core can hold, and leaves it as it is (seed 11)', () => {
    const random = chance(11);
    for (let index = 0; index < 300; index += 1) {
      for (const policy of someSet(random).policies) {
        const value = bare(policy);
        expect(shapeFault('policy', value)).toBeUndefined();
        expect(value).toEqual(bare(policy));
      }
    }
  });

  it('fills in what was left out', () => {
    const value = {
      name: 'Cards',
      rules: [
        {
          id: 'r',
          when: { kind: 'all', of: [{ kind: 'findings', pattern: 'payment-card' }, { kind: 'unreadable' }] },
          measure: { pattern: 'payment-card' },
          bands: [{ answer: 'note' }],
        },
      ],
      ceilings: [{ answer: 'note' }],
    };
    expect(shapeFault('policy', value)).toBeUndefined();
    expect(value).toMatchObject({
      purpose: '',
      people: { with: [], without: [] },
      shared: null,
      ceilings: [{ people: { with: [], without: [] }, until: null }],
      rules: [
        {
          unless: null,
          measure: { distinct: true, certainty: 80, where: [] },
          when: { of: [{ atLeast: 1, distinct: true, certainty: 80, where: [] }, { reasons: [] }] },
          bands: [{ from: 1, to: null, severity: 'medium', treatments: [], text: null }],
          keep: 'excerpts',
          endsPolicy: false,
        },
      ],
    });
  });

  it.each<[string, object, string]>([
    ['an unknown kind', { when: { kind: 'magic' } }, 'rules.0.when.kind is no kind of this: "magic"'],
    ['a kind of the language', { when: { kind: 'constructor' } }, 'rules.0.when.kind is no kind'],
    ['no kind', { when: {} }, 'rules.0.when'],
    [
      'a count in words',
      { when: { ...findingsAsked(1), atLeast: '5' } },
      'rules.0.when.atLeast must be number',
    ],
    [
      'a field of nobody',
      { when: { ...findingsAsked(1), surprise: 1 } },
      'rules.0.when.surprise is not a field',
    ],
    [
      'a fault deep inside',
      {
        when: {
          kind: 'any',
          of: [findingsAsked(1), { kind: 'recipient', quantity: 'some', side: 'outside' }],
        },
      },
      'rules.0.when.of.1.quantity must be one of any, every',
    ],
    ['a list that is none', { when: { kind: 'all', of: 'all' } }, 'rules.0.when.of must be array'],
    [
      'an unknown answer',
      { bands: [{ answer: 'shout' }] },
      'rules.0.bands.0.answer must be one of note, advise',
    ],
    ['no answer', { bands: [{}] }, 'rules.0.bands.0 has no answer'],
    [
      'a fault behind what may be null',
      { unless: { kind: 'size' } },
      'rules.0.unless has no atLeastKilobytes',
    ],
  ])('names %s', (_name, over, expected) => expect(said(over)).toContain(expected));

  it('stops at clauses nested without end', () => {
    let when: unknown = findingsAsked(1);
    for (let depth = 0; depth < 5_000; depth += 1) when = { kind: 'all', of: [when] };
    expect(said({ when })).toContain('nested deeper');
  });
});

describe('SavePolicyRequest', () => {
  const faults = (policy: object, over: object = {}) =>
    validateSync(
      plainToInstance(SavePolicyRequest, {
        policy: { ...bare(policyOf('p', [rule])), ...policy },
        version: 1,
        ...over,
      }),
      {
        whitelist: true,
        forbidNonWhitelisted: true,
      },
    ).map((fault) => [fault.property, ...Object.values(fault.constraints ?? {})].join(': '));

  it('takes a draft with an impossible certainty: the core says so where it stands', () => {
    const when = findingsAsked(1, { certainty: 140 });
    expect(faults({ rules: [{ ...rule, when }] })).toEqual([]);
  });

  it.each([
    [
      'an unknown channel',
      { channels: ['pigeon'] },
      {},
      /^policy: policy\.channels\.0 must be one of mail, chat/,
    ],
    ['a field of nobody', {}, { colour: 'red' }, /^colour/],
    ['no version', {}, { version: undefined }, /^version/],
  ])('names the field for %s', (_name, policy, over, expected) => {
    expect(faults(policy, over)).toEqual([expect.stringMatching(expected)]);
  });
});
