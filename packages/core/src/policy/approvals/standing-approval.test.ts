import { bandOf, findingOf, findingsAsked, mailOf, policyOf, ruleOf, setOf } from '@lantern/testkit';
import type { InspectedMovement } from '../../movement/movement.js';
import { evaluate } from '../evaluate/evaluate.js';
import {
  approvalsUsed,
  destinationsToApprove,
  namesFor,
  type StandingApproval,
  withApprovals,
} from './standing-approval.js';

const BROKER = 'desk@broker.example';
const mail = (to: readonly string[], over: Partial<InspectedMovement> = {}): InspectedMovement =>
  mailOf([findingOf('4539148803436467')], [...to], over);
const rule = ruleOf('cards', { when: findingsAsked(1) });
const other = ruleOf('far', { when: { kind: 'reach', side: 'outside', atLeast: 2 } });
const set = setOf([policyOf('Cards', [rule, other])]);
const first = mail([BROKER]);
const approval: StandingApproval = {
  ...{ id: 'a', version: 2, person: first.sender.address.toUpperCase(), channel: 'mail', rules: [rule.id] },
  ...{ to: [BROKER], since: first.at - 1_000, until: first.at + 1_000, content: null, by: 'Mara Quill' },
};
const judge = (
  movement: InspectedMovement,
  over: Partial<StandingApproval> = {},
  content: string | null = null,
) => withApprovals(evaluate(set, movement), movement, [{ ...approval, ...over }], content);

describe('a standing approval', () => {
  it('notes what it lets pass, and says which it was', () => {
    const verdict = judge(first);
    expect(verdict.answer).toBe('note');
    expect(verdict.matches[0]).toMatchObject({
      ...{ answer: 'note', written: 'block', cut: 'approval' },
      approval: { id: 'a', version: 2, by: 'Mara Quill', until: approval.until },
    });
    expect(approvalsUsed(verdict)).toEqual(['a']);
  });

  it.each<[string, Partial<StandingApproval>]>([
    ['another person', { person: 'other@merrowstrait.example' }],
    ['another channel', { channel: 'chat' }],
    ['another rule', { rules: [other.id] }],
    ['another destination', { to: ['desk@elsewhere.example'] }],
    ['a domain that only ends alike', { to: ['@oker.example'] }],
    ['a time that is over', { until: first.at }],
    ['a time to come', { since: first.at + 1 }],
    ['other content', { content: 'x' }],
  ])('for %s changes nothing', (_what, over) => {
    expect(judge(first, over)).toEqual(evaluate(set, first));
  });

  it('may name a domain, and the content that it is for', () => {
    expect(judge(first, { to: ['@Broker.example'] }).answer).toBe('note');
    expect(judge(first, { content: 'x' }, 'x').answer).toBe('note');
  });

  it('lets nothing pass that also goes to somebody whom it does not name', () => {
    expect(judge(mail([BROKER, 'desk@elsewhere.example'])).answer).toBe('block');
  });

  it('leaves the other rules as they are, and the way on which they were read', () => {
    const both = mail([BROKER, 'second@broker.example']);
    const verdict = judge(both, { to: ['@broker.example'] });
    expect(verdict.matches.map(({ answer }) => answer)).toEqual(['note', 'block']);
    expect(verdict).toMatchObject({ answer: 'block', decidedBy: { rule: other.id } });
    expect(verdict.trace).toEqual(evaluate(set, both).trace);
  });

  it('asks only about the recipients that a rule is asked about', () => {
    const apart = setOf([
      policyOf('Cards', [
        {
          ...rule,
          perRecipient: true,
          when: { kind: 'domain', domains: ['broker.example'], quantity: 'any' },
        },
      ]),
    ]);
    const movement = mail([BROKER, 'desk@elsewhere.example']);
    expect(withApprovals(evaluate(apart, movement), movement, [approval], null).answer).toBe('note');
  });

  it('keeps treatments: what passes is still marked', () => {
    const marked = { ...rule, bands: [bandOf('hold', { treatments: [{ kind: 'mark', words: 'Care' }] })] };
    const verdict = withApprovals(
      evaluate(setOf([policyOf('Cards', [marked])]), first),
      first,
      [approval],
      null,
    );
    expect(verdict).toMatchObject({ answer: 'note', treatments: [{ kind: 'mark' }] });
  });

  it('does not answer what asks the person, what a label forbids, and what was not read in time', () => {
    const asks = setOf([policyOf('Cards', [{ ...rule, bands: [bandOf('ask')] }])]);
    expect(withApprovals(evaluate(asks, first), first, [approval], null).answer).toBe('ask');
    const blocked = evaluate(set, first);
    for (const verdict of [
      { ...blocked, forbidden: [] },
      { ...blocked, unfinished: true },
    ])
      expect(withApprovals(verdict, first, [approval], null)).toBe(verdict);
  });
});

describe('namesFor', () => {
  it('is the destination or its whole domain, never what stands above', () => {
    expect(namesFor('a@mail.out.example')).toEqual(['a@mail.out.example', '@mail.out.example']);
    expect(namesFor('files.example')).toEqual(['files.example']);
  });
});

describe('destinationsToApprove', () => {
  it('names people outside and where it is put, each once', () => {
    expect(
      destinationsToApprove({
        recipients: [
          { address: 'A@out.example', outside: true },
          { address: 'in@merrowstrait.example', outside: false },
          { address: 'files.example', outside: true },
        ],
        into: [{ kind: 'host', host: 'files.example' }],
      }),
    ).toEqual(['a@out.example', 'files.example']);
  });
});
