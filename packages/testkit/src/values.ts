import { type CheckStep, checkOf, type ReadyPattern, shapeVariants } from '@lantern/core/detection';
import type { Chance } from './random.js';

/** Tries until the check digits hold by chance; the rarest combination passes one in some ten thousand. */
const MOST_TRIES = 400_000;

const DIGITS = '0123456789';
const CAPITALS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';
const DIGIT = 1;
const CAPITAL = 2;

/** A value that satisfies every step of a pattern written in shapes, as people write it. */
export function valueOf(pattern: ReadyPattern, random: Chance): string {
  if (pattern.recognition.by !== 'shapes') throw new Error(`${pattern.id} has no shapes`);
  const passes = checkOf(pattern);
  const variants = shapeVariants(pattern.recognition.shapes, pattern.recognition.separators);
  for (let round = 0; round < MOST_TRIES; round += 1) {
    const variant = random.pick(variants);
    const units: string[] = [];
    const masks: number[] = [];
    for (const group of variant.groups) {
      const length = random.whole(group.least, group.most);
      for (let place = 0; place < length; place += 1) {
        const exact = group.exact[place] ?? 0;
        const mask = group.masks[place] ?? DIGIT;
        masks.push(mask);
        const set = exact
          ? String.fromCharCode(exact)
          : (mask & DIGIT ? DIGITS : '') + (mask & CAPITAL ? CAPITALS : '');
        units.push(random.pick([...set]));
      }
    }
    fill(units, pattern.steps, random);
    // What the steps put in may not suit this way of writing: letters where it has digits.
    if (units.some((unit, place) => ((masks[place] ?? 0) & (/\d/.test(unit) ? DIGIT : CAPITAL)) === 0))
      continue;
    if (!passes(units.join(''))) continue;
    return write(variant, units);
  }
  throw new Error(`${pattern.id}: no value in ${MOST_TRIES} tries`);
}

function write(variant: ReturnType<typeof shapeVariants>[number], units: readonly string[]): string {
  // How many units each group took: lengths vary at the end of one group only, so the rest goes there.
  const spare = units.length - variant.groups.reduce((sum, group) => sum + group.least, 0);
  let at = 0;
  let left = spare;
  const pieces = variant.groups.map((group, index) => {
    const more = Math.min(left, group.most - group.least);
    left -= more;
    const piece = units.slice(at, at + group.least + more).join('');
    at += group.least + more;
    return (variant.between[index] ?? '') + piece;
  });
  return pieces.join('') + variant.after;
}

const two = (value: number): string => String(value).padStart(2, '0');

function dateText(step: Extract<CheckStep, { check: 'date' }>, random: Chance): string {
  const year = random.whole(1950, 2005);
  const day = two(random.whole(1, 28) + random.pick([...(step.dayOffsets ?? [0])]));
  const month = two(random.whole(1, 12) + random.pick([...(step.monthOffsets ?? [0])]));
  const short = two(year % 100);
  switch (step.order) {
    case 'yymmdd':
      return short + month + day;
    case 'ddmmyy':
      return day + month + short;
    case 'mmddyy':
      return month + day + short;
    case 'yyyymmdd':
      return `${year}${month}${day}`;
    case 'ddmmyyyy':
      return `${day}${month}${year}`;
    case 'ddmmyyy':
      return `${day}${month}${String(year).slice(1)}`;
    case 'yymm':
      return short + month;
    case 'yyddd':
      return short + String(random.whole(1, 365)).padStart(3, '0');
  }
}

/** Puts dates, listed values and numbers within bounds where the steps want them; check digits are left to chance. */
function fill(units: string[], steps: readonly CheckStep[], random: Chance): void {
  const put = (from: number, to: number, text: string): void => {
    const start = from < 0 ? units.length + from : from;
    const end = to <= 0 ? units.length + to : to;
    for (let index = 0; index < end - start && start + index < units.length; index += 1)
      units[start + index] = text[index] ?? '0';
  };
  for (const step of steps) {
    if (step.check === 'date') {
      const text = dateText(step, random);
      const start = step.at < 0 ? units.length + step.at : step.at;
      put(start, start + text.length, text);
    } else if (step.check === 'one-of') put(step.of[0], step.of[1], random.pick([...step.values]));
    else if (step.check === 'within') {
      const start = step.of[0] < 0 ? units.length + step.of[0] : step.of[0];
      const end = step.of[1] <= 0 ? units.length + step.of[1] : step.of[1];
      put(start, end, String(random.whole(step.least, step.most)).padStart(end - start, '0'));
    } else if (step.check === 'made-of') {
      const start = step.of[0] < 0 ? units.length + step.of[0] : step.of[0];
      const end = step.of[1] <= 0 ? units.length + step.of[1] : step.of[1];
      for (let index = start; index < end && index < units.length; index += 1) {
        if (!step.characters.includes(units[index] ?? '')) units[index] = random.pick([...step.characters]);
      }
    } else if (step.check === 'any') {
      const rows = step.of.filter((row) =>
        row.every((each) => each.check !== 'length' || each.of.includes(units.length)),
      );
      if (rows.length > 0) fill(units, random.pick([...rows]), random);
    }
  }
}

/** The same value with one digit, not the first of it, raised by one: a typing error. */
export function oneDigitOff(value: string, random: Chance): string {
  const places = [...value].flatMap((unit, index) => (/\d/.test(unit) ? [index] : []));
  const at = random.pick(places.length > 1 ? places.slice(1) : places);
  return value.slice(0, at) + String((Number(value[at]) + 1) % 10) + value.slice(at + 1);
}

/** Two different digits that stand beside each other change places, or undefined where there are none. */
export function transposed(value: string, random: Chance): string | undefined {
  const places = [...value].flatMap((unit, index) => {
    const next = value[index + 1] ?? '';
    return /\d/.test(unit) && /\d/.test(next) && unit !== next ? [index] : [];
  });
  if (places.length === 0) return undefined;
  const at = random.pick(places);
  return value.slice(0, at) + (value[at + 1] ?? '') + (value[at] ?? '') + value.slice(at + 2);
}
