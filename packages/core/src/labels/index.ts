export { newLabel, nextRank } from './new-label.js';
export {
  type Automatic,
  type AutomaticOutcome,
  type AutomaticResult,
  type ContentTerm,
  DOES,
  isAtPlace,
  isPersonsStore,
  labelByRules,
  type LabelledItem,
  OUTCOMES,
  REACHES,
  type Reach,
} from './automatic.js';
export {
  type ItemOnItsWay,
  labelAfter,
  labelOnItsWay,
  type StandingLabel,
  suggestedLabel,
} from './on-its-way.js';
export { colourFault, contrast, isColour } from './contrast.js';
export {
  type Clause,
  type Effect,
  EFFECTS,
  type EffectTerms,
  type Grant,
  type HandledItem,
  type Handler,
  type Handling,
  isOpen,
  type Leave,
  leftToSetter,
  mayDo,
  type Named,
  OPEN_HANDLING,
} from './handling.js';
export {
  type Carrier,
  CARRIERS,
  type ChoosingWords,
  choosingWords,
  type ForeignName,
  highest,
  type Label,
  LABELLED_HOW,
  type LabelledHow,
  labelOfForeign,
  type LabelShift,
  labelShift,
  MAX_RANK,
} from './label.js';
export {
  type LabelContext,
  labelGravity,
  type LabelProblem,
  type LabelProblemCode,
  labelProblems,
  MAX_GRANT_DAYS,
  NO_LABELS,
  type WholeLabelSet,
} from './label-problems.js';
export { type MarkFacts, type PrintedMark, printedMarks } from './marking.js';
export {
  MARK_FIELDS,
  MARK_PLACES,
  MARK_POINTS,
  type Marking,
  type MarkPlace,
  MAX_MARK_LENGTH,
  MAX_SLANT,
} from './mark.js';
export {
  type Cost,
  costOf,
  COSTS,
  type Following,
  FOLLOWINGS,
  hasBegun,
  type LabelSet,
  type Need,
  NEEDS,
  type Offer,
  type Offered,
  offeredTo,
  type Start,
} from './offer.js';
export {
  type CopyTerms,
  ENTRIES,
  type Entry,
  type Finder,
  FINDERS,
  type InPlace,
  isOpenPlace,
  mayInPlace,
  OPEN_PLACE,
  opensByItself,
  OUTSIDE_TERMS,
  type OutsideTerm,
  type PlaceTerms,
  STRANGE_MACHINES,
  type StrangeMachine,
} from './place-terms.js';
export { printedHandling } from './printed-words.js';
export { changesForPeople, type Disagreement, disagreements, type PersonChange } from './standing.js';
