import { NO_ANSWERS } from './decision.js';
import { applyAct, type DeskAct, type DeskState } from './desk-act.js';
import { urgencyOf, withAge, withSeverity } from './urgency.js';

const fresh: DeskState = {
  ...NO_ANSWERS,
  status: 'new',
  outcome: null,
  assignee: null,
  severity: 'medium',
  test: false,
};
const ada = { name: 'Ada', own: false };

describe('applyAct', () => {
  it.each<[string, DeskAct, Partial<DeskState>]>([
    ['handing on takes it', { act: 'assign', to: 'Bo' }, { assignee: 'Bo', status: 'taken' }],
    [
      'an answer assigns it to whoever gave it',
      { act: 'answer-looked-for', yes: false },
      { assignee: 'Ada', outcome: 'false-positive' },
    ],
    [
      'a severity changes nothing else',
      { act: 'set-severity', severity: 'high' },
      { severity: 'high', status: 'new', assignee: null },
    ],
    ['a test is a mark beside the decision', { act: 'mark-test', yes: true }, { test: true, outcome: null }],
  ])('%s', (_name, act, expected) => {
    expect(applyAct(fresh, act, ada)).toMatchObject({ status: 'changed', state: expected });
  });

  it('keeps whoever has it when another answers, and gives it to whoever takes it', () => {
    const held = { ...fresh, assignee: 'Bo', status: 'taken' as const };
    expect(applyAct(held, { act: 'answer-all-right', yes: true }, ada)).toMatchObject({
      state: { assignee: 'Bo' },
    });
    expect(applyAct(held, { act: 'take' }, ada)).toMatchObject({ state: { assignee: 'Ada' } });
  });

  it.each<[string, DeskState, DeskAct, string]>([
    [
      'handing on what is decided',
      { ...fresh, status: 'decided' },
      { act: 'assign', to: 'Bo' },
      'already-decided',
    ],
    ['handing to whoever has it', { ...fresh, assignee: 'Bo' }, { act: 'assign', to: 'Bo' }, 'already-so'],
    ['the severity it has', fresh, { act: 'set-severity', severity: 'medium' }, 'already-so'],
    ['no mark to take off', fresh, { act: 'mark-test', yes: false }, 'already-so'],
  ])('refuses %s', (_name, state, act, reason) => {
    expect(applyAct(state, act, ada)).toEqual({ status: 'refused', reason });
  });

  it('lets nobody decide about themselves, but lets them hand it on', () => {
    const own = { name: 'Ada', own: true };
    for (const act of ['answer-looked-for', 'answer-all-right', 'mark-test'] as const)
      expect(applyAct(fresh, { act, yes: true }, own)).toEqual({ status: 'refused', reason: 'own-incident' });
    expect(applyAct(fresh, { act: 'set-severity', severity: 'low' }, own).status).toBe('refused');
    expect(applyAct(fresh, { act: 'reopen' }, own).status).toBe('refused');
    expect(applyAct(fresh, { act: 'assign', to: 'Bo' }, own).status).toBe('changed');
  });
});

describe('urgency that changes', () => {
  const urgency = urgencyOf({
    severity: 'high',
    answer: 'note',
    distinctValues: 10,
    outsideRecipients: 1,
    unreadableParts: 0,
  });
  const sum = (parts: typeof urgency.parts) => parts.reduce((total, part) => total + part.points, 0);

  it('holds its age once, and none when there is none', () => {
    const aged = withAge(withAge(urgency, 4), 8);
    expect(aged.parts.filter(({ code }) => code === 'age')).toEqual([{ code: 'age', points: 8 }]);
    expect(aged.total).toBe(Math.min(100, sum(urgency.parts) + 8));
    expect(withAge(aged, 0)).toEqual(urgency);
  });

  it('is the one of another severity, and comes back', () => {
    const low = withSeverity(urgency, 'low');
    expect(low.total).toBeLessThan(urgency.total);
    expect(withSeverity(low, 'high')).toEqual(urgency);
  });
});
