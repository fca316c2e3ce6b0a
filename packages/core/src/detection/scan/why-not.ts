import type { PatternId } from '../../shared/brand.js';
import { toSearchText } from '../../text/search-text.js';
import { Tables } from '../../text/tables.js';
import { evidenceOf } from '../model/context.js';
import { certaintyOfSum, type Evidence, sumOf } from '../model/evidence.js';
import { compileFastScan } from './compiled-scan.js';
import type { ReadyPattern } from '../model/pattern.js';
import { plainPass, plainValues } from './plain-scan.js';
import { prepare, type Prepared } from '../model/prepared.js';
import { shapeExpression } from '../model/shape.js';
import { valuesOf } from '../checks/values.js';
import { Vocabulary } from './vocabulary.js';

/** Longest stretch that can be asked about: a value and a few words, not a page. */
const MAX_ASKED = 400;
/** Patterns named in an answer. */
const MOST_ANSWERS = 5;
/** Text on either side that is looked at for words. */
const AROUND = 400;

/** Why one pattern found nothing in a stretch of text, the nearest to finding something first. */
export interface NearestPattern {
  readonly pattern: PatternId;
  /** What was missing. */
  readonly missing: 'certainty' | 'check' | 'structure' | 'boundary' | 'length';
  /** The sum as far as it goes; empty where the value did not pass. */
  readonly evidence: readonly Evidence[];
  readonly certainty: number;
  /** How far off a length is, in letters and digits; 0 for the rest. */
  readonly off: number;
  /** Units of the stretch that came nearest, in the text as read. */
  readonly start: number;
  readonly end: number;
}

/**
 * Why nothing is found between two offsets of a text: the patterns that came nearest, and what each of them missed.
 * Slow and thorough; asked for one stretch at a time.
 */
export function whyNotFound(
  text: string,
  from: number,
  to: number,
  patterns: readonly ReadyPattern[],
): NearestPattern[] {
  const start = Math.max(0, from - AROUND);
  const around = text.slice(start, Math.min(text.length, to + AROUND));
  const asked = text.slice(from, Math.min(to, from + MAX_ASKED));
  const answers = patterns.flatMap((pattern, index) => {
    const nearest = nearestOf(prepare(pattern, 0), { around, start, from, to, asked });
    return nearest ? [{ nearest, index }] : [];
  });
  return answers
    .sort((left, right) => rank(right.nearest) - rank(left.nearest) || left.index - right.index)
    .slice(0, MOST_ANSWERS)
    .map(({ nearest }) => nearest);
}

interface Asked {
  readonly around: string;
  readonly start: number;
  readonly from: number;
  readonly to: number;
  readonly asked: string;
}

const RANKS = { certainty: 4, check: 3, structure: 2, boundary: 1.5, length: 1 } as const;

function rank(nearest: NearestPattern): number {
  return RANKS[nearest.missing] + nearest.certainty / 1000 - nearest.off / 10;
}

function nearestOf(prepared: Prepared, asked: Asked): NearestPattern | undefined {
  return weakest(prepared, asked) ?? failing(prepared, asked) ?? almost(prepared, asked);
}

/** Share of the stretch that a value must cover to be meant by the question: a year inside a number is not. */
const MEANT_SHARE = 0.6;

function overlaps(asked: Asked, start: number, end: number): boolean {
  const covered = Math.min(asked.to, asked.start + end) - Math.max(asked.from, asked.start + start);
  return covered >= (asked.to - asked.from) * MEANT_SHARE;
}

/** It passed its checks, and the sum was too small. */
function weakest(prepared: Prepared, asked: Asked): NearestPattern | undefined {
  const scan = compileFastScan([prepared], new Vocabulary([prepared], []));
  const search = toSearchText(asked.around);
  const passed = plainPass(scan, search, { tables: new Tables(search), most: 1000 });
  const survivor = passed.survivors.find((each) => overlaps(asked, each.start, each.end));
  if (!survivor) return undefined;
  const written = search.text.slice(survivor.start, survivor.end);
  const canonical = survivor.canonical ?? written.replace(/[^0-9A-Za-z]/g, '').toUpperCase();
  const usual = prepared.usual ? prepared.usual(valuesOf(canonical), canonical.length) : null;
  const evidence = evidenceOf(
    { prepared, grouped: survivor.grouped, canonical, usual, look: survivor.look },
    survivor.context,
    {
      around: passed.around(survivor),
      broken: false,
    },
  );
  return answer(
    prepared,
    'certainty',
    { evidence, certainty: certaintyOfSum(sumOf(evidence)) },
    inText(asked, survivor),
  );
}

/** It has the shape, and a check, a date or a range fails. */
function failing(prepared: Prepared, asked: Asked): NearestPattern | undefined {
  const { text } = toSearchText(asked.around);
  const value = plainValues(text, prepared).find(
    (each) => !each.passes && overlaps(asked, each.start, each.end),
  );
  if (!value) return undefined;
  const missing = prepared.check.digitsShare < 1 ? 'check' : 'structure';
  return answer(prepared, missing, { evidence: [], certainty: 0 }, inText(asked, value));
}

/** The stretch itself would fit, were it not for what it touches or for a few letters or digits too many or too few. */
function almost(prepared: Prepared, asked: Asked): NearestPattern | undefined {
  if (prepared.variants.length === 0) return undefined;
  const trimmed = toSearchText(asked.asked).text.trim();
  const whole = { start: asked.from - asked.start, end: asked.to - asked.start };
  for (const variant of prepared.variants) {
    if (new RegExp(`^(?:${shapeExpression(variant)})$`).test(trimmed)) {
      return answer(prepared, 'boundary', { evidence: [], certainty: 0 }, inText(asked, whole));
    }
  }
  const signature = (written: string): string =>
    written
      .replace(/\d/g, '9')
      .replace(/[A-Za-z]/g, 'A')
      .replace(/[^9A]/g, '');
  const given = signature(trimmed);
  if (given.length < 5 || !given.includes('9')) return undefined;
  const lengths = prepared.variants.map((variant) =>
    variant.groups.reduce((sum, group) => sum + group.most, 0),
  );
  const off = Math.min(...lengths.map((length) => Math.abs(length - given.length)));
  const digitsOnly = prepared.variants.every((variant) =>
    variant.groups.every((group) => group.masks.every((mask) => mask === 1)),
  );
  if (off === 0 || off > 2 || digitsOnly !== /^9+$/.test(given)) return undefined;
  return { ...answer(prepared, 'length', { evidence: [], certainty: 0 }, inText(asked, whole)), off };
}

/** Offsets of the text that was asked about, from those of the stretch around it. */
function inText(
  asked: Asked,
  at: { readonly start: number; readonly end: number },
): { start: number; end: number } {
  return { start: asked.start + at.start, end: asked.start + at.end };
}

function answer(
  prepared: Prepared,
  missing: NearestPattern['missing'],
  sum: { readonly evidence: readonly Evidence[]; readonly certainty: number },
  at: { readonly start: number; readonly end: number },
): NearestPattern {
  return {
    pattern: prepared.pattern.id,
    missing,
    ...sum,
    off: 0,
    start: at.start,
    end: at.end,
  };
}
