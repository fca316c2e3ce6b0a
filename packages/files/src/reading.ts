/** The door for programs that read files and their labels and must be quick to start: readers are loaded when they are needed. */
export { MAX_FILE_BYTES } from './limits.js';
export { PIECE_BYTES, piecesOf, readPiece } from './large-text.js';
export type { NamedBytes, ReadPart } from './part.js';
export { readFile } from './read-file.js';
export { COMPANION_ENDING } from './labels/companion.js';
export type { FileLabel, ForeignLabel } from './labels/file-label.js';
export { readFileLabels } from './labels/label-file.js';
export { labelsOnDisk } from './labels/on-disk.js';
