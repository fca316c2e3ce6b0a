import { decide, type DecisionAct, type DecisionState, NO_ANSWERS, outcomeOf } from './decision.js';
import { urgencyOf } from './urgency.js';

const fresh: DecisionState = { ...NO_ANSWERS, status: 'new', outcome: null };
const after = (...acts: DecisionAct[]): DecisionState =>
  acts.reduce((state, act) => {
    const result = decide(state, act);
    return result.status === 'changed' ? result.state : state;
  }, fresh);
const lookedFor = (yes: boolean): DecisionAct => ({ act: 'answer-looked-for', yes });
const allRight = (yes: boolean): DecisionAct => ({ act: 'answer-all-right', yes });

describe('decide', () => {
  it.each<[string, DecisionAct[], Partial<DecisionState>]>([
    ['no: false positive at once', [lookedFor(false)], { outcome: 'false-positive', status: 'decided' }],
    ['yes alone: still open, taken', [lookedFor(true)], { outcome: null, status: 'taken' }],
    [
      'yes and all right: allowed',
      [lookedFor(true), allRight(true)],
      { outcome: 'allowed', status: 'decided' },
    ],
    [
      'yes and not all right: harm',
      [lookedFor(true), allRight(false)],
      { outcome: 'harm', status: 'decided' },
    ],
    ['the second answer alone implies the first', [allRight(false)], { outcome: 'harm', lookedFor: true }],
    [
      'a changed mind drops the second answer',
      [lookedFor(true), allRight(false), lookedFor(false)],
      { outcome: 'false-positive', allRight: null, cause: null },
    ],
    [
      'a cause for harm',
      [allRight(false), { act: 'name-cause', cause: 'slip' }],
      { outcome: 'harm', cause: 'slip' },
    ],
    [
      'reopening forgets the answers',
      [allRight(false), { act: 'reopen' }],
      { ...NO_ANSWERS, outcome: null, status: 'taken' },
    ],
    [
      'waiting stays waiting while a question is open',
      [{ act: 'wait' }, lookedFor(true)],
      { status: 'waiting' },
    ],
  ])('%s', (_name, acts, expected) => expect(after(...acts)).toMatchObject(expected));

  it.each<[string, DecisionAct[], DecisionAct, string]>([
    [
      'a cause where there is no harm',
      [lookedFor(false)],
      { act: 'name-cause', cause: 'intent' },
      'not-harm',
    ],
    ['reopening what is new', [], { act: 'reopen' }, 'already-open'],
    ['taking what is decided', [lookedFor(false)], { act: 'take' }, 'already-decided'],
  ])('refuses %s', (_name, before, act, reason) => {
    expect(decide(after(...before), act)).toEqual({ status: 'refused', reason });
  });

  it('has no outcome before both questions are answered', () => {
    expect(outcomeOf({ lookedFor: true, allRight: null, cause: null })).toBeNull();
    expect(outcomeOf(NO_ANSWERS)).toBeNull();
  });
});

describe('urgencyOf', () => {
  const facts = {
    severity: 'high',
    answer: 'block',
    distinctValues: 1,
    outsideRecipients: 1,
    unreadableParts: 0,
  } as const;

  it('is the sum of its parts and at most 100', () => {
    const urgency = urgencyOf({
      ...facts,
      severity: 'critical',
      answer: 'note',
      distinctValues: 1e9,
      outsideRecipients: 5000,
      unreadableParts: 3,
    });
    expect(urgency.total).toBe(100);
    const smaller = urgencyOf(facts);
    expect(smaller.total).toBe(smaller.parts.reduce((sum, part) => sum + part.points, 0));
  });

  it('puts what already left before what was stopped, and more before less', () => {
    expect(urgencyOf({ ...facts, answer: 'note' }).total).toBeGreaterThan(urgencyOf(facts).total);
    expect(urgencyOf({ ...facts, distinctValues: 500 }).total).toBeGreaterThan(
      urgencyOf({ ...facts, distinctValues: 5 }).total,
    );
    expect(urgencyOf({ ...facts, severity: 'low' }).total).toBeLessThan(urgencyOf(facts).total);
  });
});
