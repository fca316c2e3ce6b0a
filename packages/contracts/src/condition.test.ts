import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { conditionFault } from './condition.js';
import { SavePolicyRequest } from './policies.js';

const cards = { kind: 'findings', pattern: 'payment-card', atLeast: 5, distinct: true, certainty: 80 };

describe('conditionFault', () => {
  it.each([
    [cards],
    [{ kind: 'all', of: [cards, { kind: 'none', of: [{ kind: 'unreadable' }] }] }],
    [{ kind: 'domain', quantity: 'any', domains: ['a.example'] }],
  ])('has nothing against %j', (condition) => expect(conditionFault(condition)).toBeUndefined());

  it.each([
    [null, 'must be an object'],
    [[], 'must be an object'],
    [{ kind: 'magic' }, 'kind must be one of'],
    [{ kind: 'constructor' }, 'kind must be one of'],
    [{ ...cards, atLeast: '5' }, 'atLeast is missing or of the wrong type'],
    [{ ...cards, surprise: 1 }, 'surprise is not a field'],
    [
      { kind: 'any', of: [cards, { kind: 'recipient', quantity: 'some', side: 'outside' }] },
      'of.1.quantity is missing',
    ],
    [{ kind: 'all', of: 'all' }, 'of must be a list'],
  ])('names what is wrong with %j', (condition, fault) => expect(conditionFault(condition)).toContain(fault));

  it('stops at clauses nested without end', () => {
    let condition: unknown = cards;
    for (let depth = 0; depth < 5000; depth += 1) condition = { kind: 'all', of: [condition] };
    expect(conditionFault(condition)).toContain('nested deeper');
  });
});

describe('SavePolicyRequest', () => {
  const rule = {
    id: '3f0c1c9e-6f0c-4c39-9a0e-0d4d4d1c7b11',
    when: cards,
    unless: null,
    answer: 'block',
    severity: 'high',
    notice: '',
    endsPolicy: false,
  };
  const faults = (over: object) =>
    validateSync(
      plainToInstance(SavePolicyRequest, {
        name: 'Cards',
        purpose: '',
        channels: ['mail'],
        rules: [rule],
        version: 1,
        ...over,
      }),
      {
        whitelist: true,
        forbidNonWhitelisted: true,
      },
    );

  it('takes a draft with an impossible certainty: the core says so where it stands', () => {
    expect(faults({ rules: [{ ...rule, when: { ...cards, certainty: 140 } }] })).toEqual([]);
  });

  it.each([
    ['an unknown channel', { channels: ['pigeon'] }, 'channels'],
    ['an unknown answer', { rules: [{ ...rule, answer: 'shout' }] }, 'rules'],
    ['a field of nobody', { colour: 'red' }, 'colour'],
    ['no version', { version: undefined }, 'version'],
  ])('names the field for %s', (_name, over, field) => {
    expect(faults(over).map((fault) => fault.property)).toEqual([field]);
  });
});
