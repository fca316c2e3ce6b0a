import chardet from 'chardet';
import iconv from 'iconv-lite';

/** Bytes looked at to tell text from binary and to guess an encoding. */
const SAMPLE_BYTES = 64 * 1024;

/** Decodes text in any common encoding by its content; undefined for bytes that are no text. */
export function decodeText(bytes: Uint8Array): string | undefined {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const marked = markedEncoding(buffer) ?? unmarkedWide(buffer);
  if (marked) return iconv.decode(buffer, marked);
  const sample = buffer.subarray(0, SAMPLE_BYTES);
  if (sample.includes(0)) return undefined;
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(buffer);
  } catch {
    const guess = guessed(sample);
    return guess === undefined ? undefined : iconv.decode(buffer, guess);
  }
}

/** The likeliest encoding of bytes that are not UTF-8; undefined for bytes that are no text. */
function guessed(sample: Buffer): string | undefined {
  if (looksBinary(sample)) return undefined;
  const guess = chardet.detect(sample);
  return guess && iconv.encodingExists(guess) ? guess : 'windows-1252';
}

/** The encoding of a text by its first bytes, which may end within a character; undefined for bytes that are no text. */
export function encodingOf(head: Uint8Array): string | undefined {
  const buffer = Buffer.from(head.buffer, head.byteOffset, head.byteLength);
  const marked = markedEncoding(buffer) ?? unmarkedWide(buffer);
  if (marked) return marked;
  if (buffer.includes(0)) return undefined;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(buffer, { stream: true });
    return 'utf8';
  } catch {
    return guessed(buffer.subarray(0, SAMPLE_BYTES));
  }
}

function markedEncoding(buffer: Buffer): string | undefined {
  if (buffer[0] === 0xef && buffer[1] === 0xbb && buffer[2] === 0xbf) return 'utf8';
  if (buffer[0] === 0xff && buffer[1] === 0xfe) return 'utf-16le';
  if (buffer[0] === 0xfe && buffer[1] === 0xff) return 'utf-16be';
  return undefined;
}

/** UTF-16 without a mark: in Latin text every second byte is zero. */
function unmarkedWide(buffer: Buffer): string | undefined {
  const pairs = Math.min(buffer.length, 1024) >> 1;
  if (pairs < 2) return undefined;
  let evenZeros = 0;
  let oddZeros = 0;
  for (let pair = 0; pair < pairs; pair += 1) {
    if (buffer[pair * 2] === 0) evenZeros += 1;
    if (buffer[pair * 2 + 1] === 0) oddZeros += 1;
  }
  if (oddZeros > pairs * 0.7 && evenZeros === 0) return 'utf-16le';
  if (evenZeros > pairs * 0.7 && oddZeros === 0) return 'utf-16be';
  return undefined;
}

function looksBinary(sample: Buffer): boolean {
  let control = 0;
  for (const byte of sample)
    if (byte < 0x20 && byte !== 9 && byte !== 10 && byte !== 12 && byte !== 13 && byte !== 27) control += 1;
  return control > sample.length * 0.02;
}
