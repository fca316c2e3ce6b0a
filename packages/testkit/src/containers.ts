import type { ReadyPattern } from '@lantern/core/detection';
import type { Chance } from './random.js';
import { valueOf } from './values.js';

/** A text with values of one pattern in it, each as it stands there. */
export interface Contained {
  readonly text: string;
  readonly values: readonly string[];
  /** What the text is: HTML is read before it is searched. */
  readonly as: 'text' | 'html';
}

type Container = (pattern: ReadyPattern, random: Chance) => Contained;

/** Words between a name and its value, 40 to 75 characters with the comma and the verb around them. */
const FILLERS = [
  'which you asked us to confirm before the end of the week',
  'as it stands in the letter that came with the first post',
  'that the driver wrote down for us at the gate on Friday',
];
const PEOPLE = ['Anna Berg', 'Jon Vik', 'Eva Lund', 'Per Strand', 'Ida Moe', 'Nils Haug', 'Kari Sund'];

const capital = (text: string): string => `${text.slice(0, 1).toUpperCase()}${text.slice(1)}`;

/** One of a pattern's own names, without the mark of an acronym. */
export function nameOf({ namingWords }: ReadyPattern, random: Chance): string {
  return random.pick(namingWords).replace(/^=/, '');
}

/** Words of a name in Latin letters, without accents; empty for names in other scripts. */
function latin(name: string): string[] {
  return name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .split(/[^a-zA-Z0-9]+/)
    .filter(Boolean)
    .map((word) => word.toLowerCase());
}

const camel = (words: readonly string[]): string =>
  words.map((word, index) => (index === 0 ? word : capital(word))).join('');

function one(write: (name: string, value: string, random: Chance) => string): Container {
  return (pattern, random) => {
    const value = valueOf(pattern, random);
    return { text: write(nameOf(pattern, random), value, random), values: [value], as: 'text' };
  };
}

function table(
  rows: number,
  write: (cells: readonly (readonly string[])[]) => string,
  as: Contained['as'] = 'text',
): Container {
  return (pattern, random) => {
    const values = Array.from({ length: rows }, () => valueOf(pattern, random));
    const cells = values.map((value, row) => [
      String(row + 1),
      PEOPLE[row % PEOPLE.length] ?? '',
      value,
      `${random.whole(10, 990)}.${random.whole(10, 99)}`,
    ]);
    return {
      text: write([['No', 'Name', capital(nameOf(pattern, random)), 'Amount'], ...cells]),
      values,
      as,
    };
  };
}

function aligned(rows: readonly (readonly string[])[]): string {
  const widths = (rows[0] ?? []).map((_cell, column) =>
    Math.max(...rows.map((row) => row[column]?.length ?? 0)),
  );
  return rows
    .map((row) =>
      row
        .map((cell, column) => cell.padEnd((widths[column] ?? 0) + 2))
        .join('')
        .trimEnd(),
    )
    .join('\n');
}

const html = (rows: readonly (readonly string[])[]): string =>
  `<p>Dear all, the list:</p>\n<table>\n${rows
    .map((row) => ` <tr>\n${row.map((cell) => `  <td>\n   ${cell}\n  </td>`).join('\n')}\n </tr>`)
    .join('\n')}\n</table>`;

/** Ordinary places where identifiers stand, each with their own names beside or above them. */
export const CONTAINERS: Readonly<Record<string, Container>> = {
  'a line of a form': one((name, value) => `Name: Anna Berg\n${capital(name)}: ${value}\nTown: Northquay`),
  'a mail in capitals': one(
    (name, value) => `DEAR DESK,\nTHE ${name.toUpperCase()} OF THE GUEST IS ${value}. REGARDS`,
  ),
  'rows of CSV': table(10, (rows) => rows.map((row) => row.join(',')).join('\n')),
  'three rows of HTML': table(3, html, 'html'),
  'ten rows of HTML': table(10, html, 'html'),
  'columns aligned by spaces': table(10, aligned),
  'a field of JSON': (pattern, random) => {
    const value = valueOf(pattern, random);
    const name = nameOf(pattern, random);
    const words = latin(name);
    const key = random.happens(0.5) ? camel(words) : words.join('_');
    return {
      text: JSON.stringify({ id: 661, person: 'Anna Berg', [key || name]: value }, null, 2),
      values: [value],
      as: 'text',
    };
  },
  'a message of a chat': one((name, value) => `hi, my ${name.toLowerCase()} is ${value}, thanks`),
  'a sentence, name before': one((name, value) => `We have noted the ${name} ${value} for this guest.`),
  'a sentence, value first': one((name, value) => `${value} is the ${name} that the guest gave at the desk.`),
  'a sentence, name far before': one(
    (name, value, random) => `The ${name}, ${random.pick(FILLERS)}, is ${value}.`,
  ),
  'a break behind the name': one(
    (name, value) => `Please update the record.\n${capital(name)}\n${value}\nThank you`,
  ),
  'a line of a log': one(
    (name, value) =>
      `2026-03-04T12:00:01Z INFO saved ${latin(name).join('_') || name}=${value} user=17 status=200`,
  ),
  'a log with another reference': one(
    (name, value) =>
      `2026-03-04T12:00:01Z WARN request 4821377 ticket 993812 failed: ${name} ${value} not accepted`,
  ),
};
