/** Whatever analysts do in whatever order, an incident never stands in a state that cannot be explained. */
import { chance } from '@lantern/testkit';
import {
  decide,
  type DecisionAct,
  type DecisionState,
  HARM_CAUSES,
  NO_ANSWERS,
  outcomeOf,
} from './decision.js';

const SEED = 31;
const ACTS: readonly DecisionAct[] = [
  { act: 'answer-looked-for', yes: true },
  { act: 'answer-looked-for', yes: false },
  { act: 'answer-all-right', yes: true },
  { act: 'answer-all-right', yes: false },
  ...HARM_CAUSES.map((cause) => ({ act: 'name-cause' as const, cause })),
  { act: 'take' },
  { act: 'wait' },
  { act: 'reopen' },
];

describe(`decide over random acts, seed ${SEED}`, () => {
  const random = chance(SEED);
  const histories = Array.from({ length: 500 }, () => {
    const states: DecisionState[] = [{ ...NO_ANSWERS, status: 'new', outcome: null }];
    for (let step = 0; step < 12; step += 1) {
      const before = states.at(-1);
      const result = before && decide(before, random.pick(ACTS));
      if (result?.status === 'changed') states.push(result.state);
    }
    return states;
  });

  it('is decided exactly when the answers give an outcome', () => {
    for (const state of histories.flat()) {
      expect(state.outcome).toBe(outcomeOf(state));
      expect(state.status === 'decided').toBe(state.outcome !== null);
    }
  });

  it('names a cause for harm only, and never a second answer to what is not looked for', () => {
    for (const state of histories.flat()) {
      if (state.cause !== null) expect(state.outcome).toBe('harm');
      if (state.lookedFor === false) expect(state.allRight).toBeNull();
      if (state.allRight !== null) expect(state.lookedFor).toBe(true);
    }
  });

  it('never becomes new again once somebody touched it', () => {
    for (const [, ...after] of histories) for (const state of after) expect(state.status).not.toBe('new');
  });

  it('can always be opened again, with nothing left of the answers', () => {
    for (const [, ...after] of histories) {
      for (const state of after)
        expect(decide(state, { act: 'reopen' })).toEqual({
          status: 'changed',
          state: { ...NO_ANSWERS, outcome: null, status: 'taken' },
        });
    }
  });
});
