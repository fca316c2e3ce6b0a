export { Budget } from './budget.js';
export { MAX_PAGES, MAX_EXPANDED_BYTES, MAX_FILE_BYTES, MAX_NESTING_DEPTH, MAX_PARTS } from './limits.js';
export { looksLikeMail } from './looks-like-mail.js';
export { type MailContent, openMail } from './mail.js';
export type { NamedBytes, ReadPart } from './part.js';
export { decryptedWith, encryptedFor, ownCertificate } from './encrypted-mail.js';
export { cellsAt } from './cells.js';
export { readFile } from './read-file.js';
export { MAX_PIXELS } from './picture.js';
export { stopRecognition } from './recognition.js';
export { fileFacts } from './named-kind.js';
export { COMPANION_ENDING, COMPANION_FORMAT, readCompanion } from './labels/companion.js';
export {
  type FileLabel,
  type FileLabels,
  type ForeignLabel,
  LABEL_NOTES,
  LABEL_REFUSALS,
  type LabelNote,
  type LabelRefusal,
  type LabelToWrite,
  type LabelWriting,
  NO_FILE_LABELS,
} from './labels/file-label.js';
export { readFileLabels, writeFileLabel } from './labels/label-file.js';
export { bytesOnDisk, type DiskLabelling, labelOnDisk, labelsOnDisk, replaceFile } from './labels/on-disk.js';
export { type DocxText, emptyDocx, readDocxParagraphs, writeDocxParagraphs } from './docx-paragraphs.js';
export { claimed, setOnDisk } from './labels/place-labels.js';
export { runFile, type RunFile, type RunFileResult, type RunRules } from './labels/run-file.js';
export { decodeText } from './text.js';
