import { readdir, readFile as readBytes } from 'node:fs/promises';
import { join } from 'node:path';
import {
  compileScanner,
  isKept,
  judgeSpecimen,
  type OwnPattern,
  patternSet,
  type Scanner,
  type SpecimenOutcome,
} from '@lantern/core/detection';
import { readFile } from '@lantern/files/reading';
import { bytesOf } from './bytes-of.js';

/** Ending of the file beside a specimen that says what it should give. */
const EXPECTED = '.expected.json';
/** Own patterns of the folder, as the interface gives them out. */
const PATTERNS = 'patterns.json';

/** How one specimen came out for one pattern; a fault where it could not be judged. */
export type SpecimenLine =
  | {
      readonly specimen: string;
      readonly pattern: string;
      readonly kept: boolean;
      readonly outcome: SpecimenOutcome;
    }
  | { readonly specimen: string; readonly fault: string };

/** Judges every specimen of a folder; see docs/formats/specimens.md. Throws where the folder cannot be opened. */
export async function judgeFolder(folder: string): Promise<SpecimenLine[]> {
  const names = (await readdir(folder)).sort();
  const scanner = compileScanner(patternSet(names.includes(PATTERNS) ? await ownPatterns(folder) : []));
  const lines: SpecimenLine[] = [];
  for (const name of names) {
    if (!name.endsWith(EXPECTED)) continue;
    const specimen = name.slice(0, -EXPECTED.length);
    if (names.includes(specimen)) lines.push(...(await judgeOne(folder, specimen, scanner)));
    else lines.push({ specimen, fault: `there is no file of this name beside ${name}` });
  }
  return lines;
}

async function ownPatterns(folder: string): Promise<OwnPattern[]> {
  const parsed: unknown = JSON.parse(await readBytes(join(folder, PATTERNS), 'utf8'));
  if (!Array.isArray(parsed)) throw new Error(`${PATTERNS} holds no list of patterns`);
  return parsed as OwnPattern[];
}

async function judgeOne(folder: string, specimen: string, scanner: Scanner): Promise<SpecimenLine[]> {
  const expected = readExpected(await readBytes(join(folder, `${specimen}${EXPECTED}`), 'utf8'));
  if (!expected) return [{ specimen, fault: `${specimen}${EXPECTED} is not an object of lists of texts` }];
  const parts = await readFile({ name: specimen, bytes: bytesOf(join(folder, specimen)) });
  const unreadable = parts.find((part) => part.status === 'unreadable');
  if (unreadable?.status === 'unreadable' && parts.length === 1)
    return [{ specimen, fault: `it could not be read (${unreadable.reason})` }];
  const findings = parts.flatMap((part) => (part.status === 'read' ? scanner.scan(part.text).findings : []));
  return Object.entries(expected).map(([pattern, values]) => {
    const outcome = judgeSpecimen(findings, { pattern, values });
    return { specimen, pattern, kept: isKept(outcome), outcome };
  });
}

function readExpected(text: string): Record<string, string[]> | undefined {
  try {
    const parsed: unknown = JSON.parse(text);
    if (typeof parsed !== 'object' || parsed === null || Array.isArray(parsed)) return undefined;
    const lists = Object.values(parsed).every(
      (list) => Array.isArray(list) && list.every((value) => typeof value === 'string'),
    );
    return lists ? (parsed as Record<string, string[]>) : undefined;
  } catch {
    return undefined;
  }
}
