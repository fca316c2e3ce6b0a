import type { PDFPageProxy } from 'pdfjs-dist';
import { readPicture } from './picture.js';
import { type ReadPart, unreadable } from './part.js';

/** Fewest letters and digits of a page with text of its own. A scan has a stamp or a page number at most. */
const LEAST_LETTERS = 100;
/** Smallest share of a scanned page that pictures cover. */
const LEAST_COVERED = 0.3;
/** Dots an inch that a page is drawn with: what recognition of text is made for begins there. Points are 72 an inch (ISO 32000-2, 8.3.2.3). */
const DOTS = 200;
const POINTS = 72;
/** Most dots of one side: a page larger than A3 is drawn more coarsely. */
const MOST_DOTS = 4_000;

/** Codes of the PDF operators that paint and place pictures. */
export type PaintCommands = Readonly<
  Record<
    | 'save'
    | 'restore'
    | 'transform'
    | 'paintFormXObjectBegin'
    | 'paintFormXObjectEnd'
    | 'paintImageXObject'
    | 'paintInlineImageXObject'
    | 'paintImageMaskXObject',
    number
  >
>;

/** Whether a page is a scan: pictures, and hardly any text. */
export async function isScan(page: PDFPageProxy, text: string, commands: PaintCommands): Promise<boolean> {
  if (text.replace(/[^\p{L}\p{N}]/gu, '').length >= LEAST_LETTERS) return false;
  const { fnArray, argsArray } = await page.getOperatorList();
  const [left = 0, bottom = 0, right = 0, top = 0] = page.view;
  const area = Math.abs((right - left) * (top - bottom));
  return area > 0 && coveredBy({ fnArray, argsArray }, commands) >= area * LEAST_COVERED;
}

type Matrix = readonly [number, number, number, number];

const IDENTITY: Matrix = [1, 0, 0, 1];
/** Product of two matrices without their translation, which does not change sizes. */
const times = ([a, b, c, d]: Matrix, [e, f, g, h]: Matrix): Matrix => [
  ...([a * e + c * f, b * e + d * f] as const),
  ...([a * g + c * h, b * g + d * h] as const),
];

/** Square points that pictures cover: each is painted over the unit square of the space that is in force. */
function coveredBy(
  { fnArray, argsArray }: { readonly fnArray: readonly number[]; readonly argsArray: readonly unknown[] },
  commands: PaintCommands,
): number {
  const above: Matrix[] = [];
  let now: Matrix = IDENTITY;
  let covered = 0;
  fnArray.forEach((command, at) => {
    const given = argsArray[at] as readonly unknown[] | null;
    if (command === commands.save) above.push(now);
    else if (command === commands.restore || command === commands.paintFormXObjectEnd)
      now = above.pop() ?? IDENTITY;
    else if (command === commands.transform) now = times(now, matrixOf(given));
    else if (command === commands.paintFormXObjectBegin) {
      above.push(now);
      now = times(now, matrixOf(given?.[0]));
    } else if (
      command === commands.paintImageXObject ||
      command === commands.paintInlineImageXObject ||
      command === commands.paintImageMaskXObject
    )
      covered += Math.abs(now[0] * now[3] - now[1] * now[2]);
  });
  return covered;
}

function matrixOf(given: unknown): Matrix {
  const values = given ? Array.from(given as ArrayLike<number>).slice(0, 4) : [];
  return values.length === 4 ? (values as unknown as Matrix) : IDENTITY;
}

/** Draws a page and recognises the text in it. */
export async function readScan(page: PDFPageProxy, place: readonly string[]): Promise<ReadPart[]> {
  const { width, height } = page.getViewport({ scale: 1 });
  const scale = Math.min(DOTS / POINTS, MOST_DOTS / Math.max(width, height, 1));
  const viewport = page.getViewport({ scale });
  try {
    const { createCanvas } = await import('@napi-rs/canvas');
    const canvas = createCanvas(
      Math.max(1, Math.ceil(viewport.width)),
      Math.max(1, Math.ceil(viewport.height)),
    );
    const drawing = page.render({
      canvas: null,
      canvasContext: canvas.getContext('2d') as never,
      viewport,
    });
    await drawing.promise;
    return await readPicture(canvas.toBuffer('image/png'), place);
  } catch {
    return [unreadable([...place, 'picture'], 'corrupt')];
  }
}
