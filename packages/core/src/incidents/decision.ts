/** Where an incident stands. */
export const STATUSES = ['new', 'taken', 'waiting', 'decided'] as const;
export type IncidentStatus = (typeof STATUSES)[number];

export type Outcome = 'false-positive' | 'allowed' | 'harm';
export const HARM_CAUSES = ['slip', 'ignorance', 'intent'] as const;
export type HarmCause = (typeof HARM_CAUSES)[number];

/** The analyst's two answers; null while a question is open. */
export interface DecisionAnswers {
  /** Was it what we look for? */
  readonly lookedFor: boolean | null;
  /** Was it all right to move it? */
  readonly allRight: boolean | null;
  /** Only for harm. */
  readonly cause: HarmCause | null;
}

export const NO_ANSWERS: DecisionAnswers = { lookedFor: null, allRight: null, cause: null };

/** The state of an incident that decisions change. */
export interface DecisionState extends DecisionAnswers {
  readonly status: IncidentStatus;
  readonly outcome: Outcome | null;
}

/** What an analyst can do to an incident. */
export type DecisionAct =
  | { readonly act: 'answer-looked-for'; readonly yes: boolean }
  | { readonly act: 'answer-all-right'; readonly yes: boolean }
  | { readonly act: 'name-cause'; readonly cause: HarmCause }
  | { readonly act: 'take' }
  | { readonly act: 'wait' }
  | { readonly act: 'reopen' };

export type ActResult =
  | { readonly status: 'changed'; readonly state: DecisionState }
  | { readonly status: 'refused'; readonly reason: 'not-harm' | 'already-open' | 'already-decided' };

/** What the two answers give, or null while they give nothing yet. What we do not look for needs no second answer. */
export function outcomeOf(answers: DecisionAnswers): Outcome | null {
  if (answers.lookedFor === false) return 'false-positive';
  if (answers.lookedFor === null || answers.allRight === null) return null;
  return answers.allRight ? 'allowed' : 'harm';
}

/** Applies an act. Answers may be changed until they are right; reopening forgets them. */
export function decide(state: DecisionState, act: DecisionAct): ActResult {
  switch (act.act) {
    case 'answer-looked-for':
      return answered(state, { lookedFor: act.yes, allRight: act.yes ? state.allRight : null, cause: null });
    case 'answer-all-right':
      return answered(state, { lookedFor: true, allRight: act.yes, cause: act.yes ? null : state.cause });
    case 'name-cause':
      if (state.outcome !== 'harm') return { status: 'refused', reason: 'not-harm' };
      return { status: 'changed', state: { ...state, cause: act.cause } };
    case 'take':
      if (state.status === 'decided') return { status: 'refused', reason: 'already-decided' };
      return { status: 'changed', state: { ...state, status: 'taken' } };
    case 'wait':
      if (state.status === 'decided') return { status: 'refused', reason: 'already-decided' };
      return { status: 'changed', state: { ...state, status: 'waiting' } };
    case 'reopen':
      if (state.status === 'new') return { status: 'refused', reason: 'already-open' };
      return { status: 'changed', state: { ...NO_ANSWERS, outcome: null, status: 'taken' } };
  }
}

function answered(state: DecisionState, answers: DecisionAnswers): ActResult {
  const outcome = outcomeOf(answers);
  return {
    status: 'changed',
    state: { ...answers, outcome, status: outcome ? 'decided' : openStatus(state) },
  };
}

function openStatus(state: DecisionState): IncidentStatus {
  return state.status === 'waiting' ? 'waiting' : 'taken';
}
