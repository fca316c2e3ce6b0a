/** A character reference of HTML: which unit it stands for, and how many units it is written with. */
export interface Entity {
  readonly unit: number;
  readonly length: number;
}

/** Longest reference that is read: `&#x0000ffff;`, with room for leading zeros. */
const LONGEST = 12;

/** Names that stand in numbers and words; others print signs that no pattern looks for. */
const NAMES: Readonly<Record<string, number>> = {
  nbsp: 0xa0, amp: 38, lt: 60, gt: 62, quot: 34, apos: 39, shy: 0xad, ndash: 0x2013, mdash: 0x2014, ensp: 0x2002,
  emsp: 0x2003, thinsp: 0x2009, zwnj: 0x200c, zwj: 0x200d, hyphen: 0x2010, dash: 0x2010, commat: 64, colon: 58,
  period: 46, sol: 47, plus: 43, equals: 61, lowbar: 95, num: 35, ouml: 0xf6, auml: 0xe4, uuml: 0xfc, szlig: 0xdf,
  eacute: 0xe9, egrave: 0xe8, ecirc: 0xea, agrave: 0xe0, ccedil: 0xe7, ntilde: 0xf1, oacute: 0xf3, iacute: 0xed,
  aacute: 0xe1, uacute: 0xfa, atilde: 0xe3, otilde: 0xf5, aring: 0xe5, oslash: 0xf8, aelig: 0xe6, Ouml: 0xd6,
  Auml: 0xc4, Uuml: 0xdc, deg: 0xb0, middot: 0xb7,
}; // prettier-ignore

/** Reads the reference that begins at `index`, or nothing where none does. Source: HTML Living Standard, section 13.5. */
export function readEntity(text: string, index: number): Entity | undefined {
  const near = text.slice(index + 1, index + 1 + LONGEST);
  const end = near.indexOf(';');
  if (end < 2) return undefined;
  const name = near.slice(0, end);
  if (name.startsWith('#')) {
    const hexadecimal = name[1] === 'x' || name[1] === 'X';
    const digits = name.slice(hexadecimal ? 2 : 1);
    if (!(hexadecimal ? /^[0-9a-fA-F]+$/ : /^\d+$/).test(digits)) return undefined;
    const unit = Number.parseInt(digits, hexadecimal ? 16 : 10);
    return unit > 0 && unit < 0xffff ? { unit, length: end + 2 } : undefined;
  }
  const unit = Object.hasOwn(NAMES, name) ? NAMES[name] : undefined;
  return unit === undefined ? undefined : { unit, length: end + 2 };
}
