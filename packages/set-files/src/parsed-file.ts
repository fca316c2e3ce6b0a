import { type Document, isNode, LineCounter, parseDocument } from 'yaml';
import { type FileFault, MAX_FILE_LENGTH, type SetText } from './files.js';

/** Aliases of one file at most: more is meant to expand without end, not to save typing. */
const MAX_ALIASES = 100;

/** A file that was read, and where each of its values stands. */
export interface ParsedFile {
  readonly path: string;
  readonly value: unknown;
  /** Line of the value at a way into it, or of the nearest thing around it. */
  lineOf(way: readonly (string | number)[]): number;
}

/** Parses one file; gives its faults where it is no YAML. */
export function parseFile({ path, text }: SetText): ParsedFile | FileFault[] {
  if (text.length > MAX_FILE_LENGTH)
    return [
      {
        path,
        line: null,
        message: `is longer than the ${MAX_FILE_LENGTH / 1_000_000} million characters that are read`,
      },
    ];
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, prettyErrors: false });
  if (document.errors.length > 0)
    return document.errors.map(({ pos, message }) => ({ path, line: lines.linePos(pos[0]).line, message }));
  try {
    const value: unknown = document.toJS({ maxAliasCount: MAX_ALIASES });
    return { path, value, lineOf: (way) => lineIn(document, lines, way) };
  } catch (error) {
    return [{ path, line: null, message: error instanceof Error ? error.message : 'cannot be read' }];
  }
}

function lineIn(document: Document, lines: LineCounter, way: readonly (string | number)[]): number {
  for (let length = way.length; length >= 0; length -= 1) {
    const node: unknown = length === 0 ? document.contents : document.getIn(way.slice(0, length), true);
    if (isNode(node) && node.range) return lines.linePos(node.range[0]).line;
  }
  return 1;
}
