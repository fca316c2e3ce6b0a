import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { languageOf } from '@lantern/core/text';
import type { Worker } from 'tesseract.js';

/** Text that was recognised, and how surely, of 100. */
export interface Recognised {
  readonly text: string;
  readonly confidence: number;
}

/** The data of every language that a picture can be read in, by ISO 639-1; every picture is read in English first. */
const DATA: Readonly<Record<string, string>> = {
  ...{ de: 'deu', fr: 'fra', es: 'spa', it: 'ita', pt: 'por', nl: 'nld', pl: 'pol' },
  ...{ uk: 'ukr', ru: 'ukr', bg: 'ukr', sr: 'ukr', el: 'ell' },
};
const ENGLISH = 'eng';
/** Languages of other letters, tried where a picture makes no sense in Latin ones. */
const OTHER_LETTERS: readonly string[] = ['ukr', 'ell'];
/** Reading less sure than this may be of other letters; measured: Latin print 80 to 96, others read as Latin 20 to 60. */
const SURE = 65;
/** So much surer another reading has to be. */
const SURER = 10;
const ENDS_WITHIN_MS = 2_000;

const require = createRequire(import.meta.url);

/** English stays ready, and the language that was needed last. */
let english: Promise<Worker> | null = null;
let other: { readonly language: string; readonly worker: Promise<Worker> } | null = null;

async function started(language: string): Promise<Worker> {
  const { createWorker } = await import('tesseract.js');
  const folder = dirname(require.resolve(`@tesseract.js-data/${language}/package.json`));
  const worker = await createWorker(language, 1, {
    langPath: join(folder, '4.0.0_best_int'),
    gzip: true,
    cacheMethod: 'none',
    errorHandler: () => undefined,
  });
  // A thread that waits for pictures keeps nobody from ending; while one is read, its time limit does.
  (worker as Worker & { readonly worker?: { unref?(): void } }).worker?.unref?.();
  return worker;
}

async function workerFor(language: string): Promise<Worker> {
  if (language === ENGLISH) return (english ??= started(ENGLISH));
  if (other && other.language !== language) {
    const before = other;
    other = null;
    await (await before.worker).terminate();
  }
  other ??= { language, worker: started(language) };
  return other.worker;
}

async function read(picture: Uint8Array, language: string): Promise<Recognised> {
  const worker = await workerFor(language);
  const { text, confidence } = (await worker.recognize(Buffer.from(picture))).data;
  // A sign that looks like a letter is meant as that letter: the micro sign in Greek, ligatures.
  return { text: text.normalize('NFKC'), confidence };
}

/**
 * Recognises the text of a picture: in English, then in the language that this shows, and in other letters where it makes no
 * sense. Throws for what is no picture.
 */
export async function recognised(picture: Uint8Array): Promise<Recognised> {
  const first = await read(picture, ENGLISH);
  const language = DATA[languageOf(first.text) ?? ''];
  if (language && !OTHER_LETTERS.includes(language)) {
    const second = await read(picture, language);
    return second.confidence >= first.confidence - SURER ? second : first;
  }
  if (first.text.trim() === '' || (first.confidence >= SURE && !looksMisread(first.text))) return first;
  let best = first;
  for (const letters of OTHER_LETTERS) {
    const found = await read(picture, letters);
    if (found.confidence > best.confidence + SURER) best = found;
  }
  return best;
}

/** Letters of other alphabets that are read as Latin ones come with capitals within words. */
function looksMisread(text: string): boolean {
  const words = text.match(/\p{L}{3,}/gu) ?? [];
  return words.filter((word) => /\p{Ll}\p{Lu}/u.test(word)).length >= Math.max(1, words.length * ODD_WORDS);
}
const ODD_WORDS = 0.2;

/** Lets the recognition go; the next picture starts it again. */
export async function stopRecognition(): Promise<void> {
  const ending = [english, other?.worker];
  english = null;
  other = null;
  const over = Promise.all(ending.map(async (worker) => (await worker)?.terminate()));
  // One that never came to start is not waited for.
  await Promise.race([over.catch(() => undefined), wait(ENDS_WITHIN_MS, undefined, { ref: false })]);
}
