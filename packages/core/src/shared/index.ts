export { assertNever } from './assert-never.js';
export type { Brand, PatternId, PolicyId, RawOffset, RuleId, SearchOffset } from './brand.js';
export { isDay } from './day.js';
export type { AutomaticId, LabelId, OfferId } from './brand.js';
export { instantOf, isZone, localDay, offsetAt } from './zone.js';
export { type Share, wilson } from './interval.js';
export { slices } from './slices.js';
