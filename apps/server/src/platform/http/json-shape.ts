/** Deepest arrays and objects inside each other in a request: a rule with all its groups has some twenty. */
export const MAX_DEPTH = 64;
/** Values in one request: a list of 100,000 words with room to spare. */
const MAX_VALUES = 1_000_000;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;

/**
 * Whether JSON is nested deeper or holds more values than anybody sends, told by its bytes alone: what checks a request
 * later walks its whole shape, and a few megabytes of brackets would hold it up for minutes.
 */
export function isTooDeep(json: Uint8Array): boolean {
  let depth = 0;
  let values = 0;
  let inText = false;
  for (let at = 0; at < json.length; at += 1) {
    const byte = json[at];
    if (inText) {
      if (byte === BACKSLASH) at += 1;
      else if (byte === QUOTE) inText = false;
      continue;
    }
    if (byte === QUOTE) inText = true;
    else if (byte === 0x5b || byte === 0x7b) {
      depth += 1;
      if (depth > MAX_DEPTH) return true;
    } else if (byte === 0x5d || byte === 0x7d) depth -= 1;
    else if (byte === 0x2c) {
      values += 1;
      if (values > MAX_VALUES) return true;
    }
  }
  return false;
}
