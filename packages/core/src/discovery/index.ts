export { type BacklogLimits, type BacklogRecord, letGo } from './backlog.js';
export {
  endingOf,
  LEFT_OUT,
  leftOutBy,
  type LeftOut,
  type ListedItem,
  MAX_SCOPE_LINE,
  MAX_SCOPE_LINES,
  pathFits,
  type Scope,
  WHOLE_PLACE,
} from './scope.js';
export {
  CERTAIN_ENOUGH,
  type FoundPattern,
  holdingOf,
  isSensitive,
  ITEM_REACHES,
  ITEM_STATES,
  type ItemKnown,
  type ItemReach,
  type ItemState,
} from './item.js';
export {
  changesBetween,
  composed,
  differencesOf,
  ITEM_CHANGES,
  type ItemChange,
  type ItemDifference,
  type ItemStep,
} from './difference.js';
export {
  type ExposedItem,
  type Exposure,
  EXPOSURE_PARTS,
  type ExposurePart,
  type ExposurePartCode,
  exposureOf,
  exposureOfSums,
  type ExposureSum,
  OLD_AFTER_DAYS,
  partsOf,
  type PlaceGuard,
  POINTS,
} from './exposure.js';
export { behindPart } from './behind-part.js';
export { ITEM_FIELD_TABLE, type ItemField } from './fields.js';
export { ITEM_AGES, ITEM_GROUPS, type ItemGroup, lineOfGroup, NO_AGE } from './groups.js';
export { type Battery, CLOCK, type Rest, restOf, type WorkingHours } from './resting.js';
export { type LookedFacts, type Reread, rereadOf } from './reread.js';
