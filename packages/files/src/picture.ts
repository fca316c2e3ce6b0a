import { createRequire } from 'node:module';
import type * as ImageSize from 'image-size';
import { type ReadPart, unreadable } from './part.js';
import { recognised, stopRecognition } from './recognition.js';

/** Largest picture that is recognised, in pixels: a page scanned at 600 dots an inch. */
export const MAX_PIXELS = 36_000_000;
/** Smaller ones are icons and lines. */
const LEAST_SIDE = 24;
/** Time for one picture, in milliseconds. */
const TIME_LIMIT = 25_000;
/** Recognition surer than this, of 100, is text; below it mostly lines and shadows. */
const LEAST_CONFIDENCE = 35;

const KINDS = new Set(['png', 'jpg', 'bmp', 'webp', 'gif', 'tiff', 'pnm']);

const require = createRequire(import.meta.url);
/** Loaded with the first file that may be a picture. */
const sizeReader = (): (typeof ImageSize)['imageSize'] =>
  (require('image-size') as typeof ImageSize).imageSize;

/** So many bytes tell text from pictures. */
const PROBE = 64;

/** Whether a file begins with signs of a text alone: no picture that is read here does, but for maps of dots in letters (PNM). */
function isPlainText(bytes: Uint8Array): boolean {
  const head = bytes.subarray(0, PROBE);
  if (head[0] === 0x50 && (head[1] ?? 0) >= 0x31 && (head[1] ?? 0) <= 0x37) return false;
  return head.every((byte) => byte === 9 || byte === 10 || byte === 13 || (byte >= 32 && byte < 127));
}

/** Size of a picture in pixels, read from its head alone; undefined where the bytes are no picture that is known. */
export function pictureSize(bytes: Uint8Array): { width: number; height: number } | undefined {
  if (isPlainText(bytes)) return undefined;
  try {
    const { width, height, type } = sizeReader()(bytes);
    return KINDS.has(type ?? '') ? { width, height } : undefined;
  } catch {
    return undefined;
  }
}

/** Recognition is one at a time: it takes a processor and some hundred megabytes. */
let running: Promise<unknown> = Promise.resolve();

/** Reads text out of a picture, without any service outside. */
export function readPicture(bytes: Uint8Array, path: readonly string[]): Promise<ReadPart[]> {
  const size = pictureSize(bytes);
  if (!size) return Promise.resolve([unreadable(path, 'unsupported')]);
  if (!(size.width > 0 && size.height > 0)) return Promise.resolve([unreadable(path, 'corrupt')]);
  if (size.width * size.height > MAX_PIXELS) return Promise.resolve([unreadable(path, 'too-large')]);
  if (size.width < LEAST_SIDE || size.height < LEAST_SIDE)
    return Promise.resolve([{ status: 'read', path: [...path, 'picture'], text: '' }]);
  const next = running.then(() => recognise(bytes, path));
  running = next.catch(() => undefined);
  return next;
}

async function recognise(bytes: Uint8Array, path: readonly string[]): Promise<ReadPart[]> {
  let timer: NodeJS.Timeout | undefined;
  const over = new Promise<'over'>((resolve) => {
    timer = setTimeout(() => resolve('over'), TIME_LIMIT);
  });
  try {
    const result = await Promise.race([recognised(bytes), over]);
    if (result === 'over') {
      await stopRecognition();
      return [unreadable(path, 'took-too-long')];
    }
    const { text, confidence } = result;
    return [{ status: 'read', path: [...path, 'picture'], text: confidence < LEAST_CONFIDENCE ? '' : text }];
  } catch {
    return [unreadable(path, 'corrupt')];
  } finally {
    clearTimeout(timer);
  }
}
