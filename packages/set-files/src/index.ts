export { type FileFault, MAX_FILE_LENGTH, MAX_FILES, SET_FORMAT, type SetText } from './files.js';
export { type ParsedFile, parseFile } from './parsed-file.js';
export { type Known, readPolicy, readSet, type SetReading } from './read.js';
export { patternFromFile } from './patterns.js';
export { slug, type WholeSet, writePolicy, writeSet } from './write.js';
export { type LabelSetKnown, type LabelSetReading, readLabelSet, writeLabelSet } from './label-set.js';
export { CROSSINGS_FILE, type CrossingsReading, readCrossings, writeCrossings } from './crossings.js';
export { type AutomationReading, readAutomation, readAutomationFile } from './automation-file.js';
