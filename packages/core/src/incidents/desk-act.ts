import type { Severity } from '../policy/model/answers.js';
import { type ActResult, decide, type DecisionAct, type DecisionState } from './decision.js';

/** What can be done to an incident from the desk: the two answers, and what is arranged around them. */
export type DeskAct =
  | DecisionAct
  /** Hands the incident to somebody, by name; null for nobody. */
  | { readonly act: 'assign'; readonly to: string | null }
  | { readonly act: 'set-severity'; readonly severity: Severity }
  /** Our own test: it stays out of figures. */
  | { readonly act: 'mark-test'; readonly yes: boolean };

/** What acts change of an incident. */
export interface DeskState extends DecisionState {
  readonly assignee: string | null;
  readonly severity: Severity;
  readonly test: boolean;
}

export type DeskActResult =
  | { readonly status: 'changed'; readonly state: DeskState }
  | {
      readonly status: 'refused';
      readonly reason: Extract<ActResult, { status: 'refused' }>['reason'] | 'own-incident' | 'already-so';
    };

/** Who acts: their name, and whether the incident is about their own movement. */
export interface Actor {
  readonly name: string;
  readonly own: boolean;
}

/** Applies an act. Nobody decides about a movement of their own or changes its severity. */
export function applyAct(state: DeskState, act: DeskAct, actor: Actor): DeskActResult {
  if (actor.own && act.act !== 'take' && act.act !== 'wait' && act.act !== 'assign')
    return { status: 'refused', reason: 'own-incident' };
  switch (act.act) {
    case 'assign':
      if (state.status === 'decided') return { status: 'refused', reason: 'already-decided' };
      if (state.assignee === act.to) return { status: 'refused', reason: 'already-so' };
      return {
        status: 'changed',
        state: {
          ...state,
          assignee: act.to,
          status: act.to !== null && state.status === 'new' ? 'taken' : state.status,
        },
      };
    case 'set-severity':
      if (state.severity === act.severity) return { status: 'refused', reason: 'already-so' };
      return { status: 'changed', state: { ...state, severity: act.severity } };
    case 'mark-test':
      if (state.test === act.yes) return { status: 'refused', reason: 'already-so' };
      return { status: 'changed', state: { ...state, test: act.yes } };
    default:
      return decided(state, act, actor);
  }
}

/** Applies an answer; whoever gives it gets the incident if nobody has it. */
function decided(state: DeskState, act: DecisionAct, { name }: Actor): DeskActResult {
  const result = decide(state, act);
  if (result.status === 'refused') return result;
  const assignee = act.act === 'take' ? name : (state.assignee ?? name);
  return { status: 'changed', state: { ...state, ...result.state, assignee } };
}
