/** A movement as it came, with its files taken out of base 64. */
export interface ReadMovement {
  /** Everything but the content of files. */
  readonly given: object;
  readonly files: readonly Uint8Array[];
  /** A file that is not in base 64, by its place; null for none. */
  readonly wrongFile: number | null;
}

export type HandedInReading =
  | { readonly status: 'read'; readonly movements: readonly ReadMovement[] }
  | { readonly status: 'refused'; readonly why: 'no-json' | 'no-movements' | 'too-many' };

/** Anything that base 64 does not have (RFC 4648, section 4), line breaks allowed. */
const NOT_BASE64 = /[^A-Za-z0-9+/=\s]/;
/** Padding stands at the end, once or twice. */
const PADDED = /^=?=?$/;

/** Takes the body of an agent's request apart: which movements, and the bytes of their files. */
export function readHandedIn(body: Uint8Array, most: number): HandedInReading {
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.byteLength).toString('utf8'));
  } catch {
    return { status: 'refused', why: 'no-json' };
  }
  const movements =
    typeof parsed === 'object' && parsed !== null && 'movements' in parsed ? parsed.movements : null;
  const are =
    Array.isArray(movements) && movements.every((each) => typeof each === 'object' && each !== null);
  if (!are || movements.length === 0) return { status: 'refused', why: 'no-movements' };
  if (movements.length > most) return { status: 'refused', why: 'too-many' };
  return { status: 'read', movements: (movements as object[]).map(readMovement) };
}

/** Takes the bytes of a movement's files out of it. */
export function readMovement(given: object): ReadMovement {
  if (!('files' in given) || !Array.isArray(given.files)) return { given, files: [], wrongFile: null };
  const files: Uint8Array[] = [];
  let wrongFile: number | null = null;
  const bare = given.files.map((file: unknown, index) => {
    if (typeof file !== 'object' || file === null || !('base64' in file) || typeof file.base64 !== 'string')
      return file;
    if (isBase64(file.base64)) files.push(Buffer.from(file.base64, 'base64'));
    else wrongFile ??= index;
    return { ...file, base64: '' };
  });
  return { given: { ...given, files: bare }, files, wrongFile };
}

/** In one pass over the text, however many spaces stand in it. */
export function isBase64(text: string): boolean {
  if (NOT_BASE64.test(text)) return false;
  const padding = text.indexOf('=');
  return padding === -1 || PADDED.test(text.slice(padding).replace(/\s+/g, ''));
}
