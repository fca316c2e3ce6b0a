export {
  type Decided,
  decidedOf,
  MAX_SHIFTED_ITEMS,
  type Rejudged,
  type ReplayDifference,
  ReplayTally,
  type Shift,
  type ShiftCounts,
  type ShiftedItem,
  shiftOf,
  SHIFTS,
} from './replay.js';
