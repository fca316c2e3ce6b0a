export { certaintyOf, type Evidence, type EvidenceCode } from './model/evidence.js';
export type { LookKind } from './looks/look.js';
export {
  type Candidate,
  certaintyFor,
  countFindings,
  type Finding,
  type FindingCount,
  patternsOf,
  type Rival,
} from './model/finding.js';
export { mask } from './model/mask.js';
export {
  type CutPiece,
  cutAtMarks,
  type Excerpt,
  type ExcerptMark,
  ExcerptQuota,
  MOST_SHOWN,
  excerptsOf,
  maskedExcerpt,
} from './model/excerpts.js';
export {
  DEFAULT_WORD_WEIGHT,
  type Exclusions,
  type ExpressionPattern,
  type ListedWord,
  OWN_CHECKS,
  type OwnCheck,
  type Pattern,
  type PatternKind,
  type PatternWeights,
  type ReadyPattern,
  type DocumentsPattern,
  LEARNT,
  type RecordsPattern,
  type WordListPattern,
} from './model/pattern.js';
export {
  MAX_FILE_COLUMNS,
  MAX_OTHER_COLUMNS,
  MAX_RECORDS,
  type RecordIndex,
  RecordIndexBuilder,
  type RecordReport,
} from './exact/index-of-records.js';
export { type RecordColumn, type RecordShape } from './model/record-shape.js';
export { normalForm } from './exact/normal-form.js';
export { COLUMN_KINDS, type ColumnKind } from './model/record-shape.js';
export type { RecordSource } from './exact/records.js';
export { type CategoryModel, type WordPart, wordCounts } from './documents/category.js';
export type { DocumentSource } from './documents/document-finder.js';
export {
  type CategoryReport,
  ENOUGH_SAMPLES,
  FOLDS,
  type HeldOut,
  LEAST_SAMPLES,
  learnCategory,
} from './documents/held-out.js';
export type { Share } from '../shared/interval.js';
export { indexLikeness, type LikenessIndex, type LikenessSample, MAX_SAMPLES } from './documents/likeness.js';
export { type ExpressionFault, faultOf } from './expressions/judge.js';
export { type ExpressionProblem, MAX_EXPRESSION } from './expressions/read.js';
export { type NearestPattern, whyNotFound } from './scan/why-not.js';
export { COUNTRY_LANGUAGES } from './library/entry/languages.js';
export { compilePlainLoop } from './scan/plain-scan.js';
export { accidentalShareOf, checkNames } from './model/check-names.js';
export { READY_PATTERNS } from './library/index.js';
export {
  type AdjustedPattern,
  isEverywhere,
  MAX_WEIGHT,
  type OwnPattern,
  patternSet,
  WEIGHT_NAMES,
  withWeights,
} from './scan/own-patterns.js';
export type { CheckStep } from './checks/step.js';
export { checkOf } from './model/prepared.js';
export {
  type Expected,
  isKept,
  judgeSpecimen,
  SPECIMEN_CERTAINTY,
  type SpecimenFigures,
  specimenFigures,
  type SpecimenOutcome,
} from './model/specimens.js';
export { shapeVariants } from './model/shape.js';
export { compilePlainScanner, compileScanner, type Scanner, type ScanResult } from './scan/scanner.js';
export {
  MAX_LISTED_WORDS,
  MAX_WORD_LENGTH,
  readWordLines,
  type WordListReading,
  writeWordLines,
} from './scan/word-list.js';
export { packFindings, type PackedFindings, unpackFindings } from './model/packed-findings.js';
