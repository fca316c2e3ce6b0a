import { OPEN_HANDLING } from './handling.js';
import type { Label } from './label.js';

/** The next free rank above what there is, in steps that leave room between. */
export function nextRank(labels: readonly Pick<Label, 'rank'>[]): number {
  const highest = Math.max(0, ...labels.map(({ rank }) => rank));
  if (highest <= 900) return Math.floor(highest / 100) * 100 + 100;
  const taken = new Set(labels.map(({ rank }) => rank));
  for (let rank = 999; rank > 0; rank -= 1) if (!taken.has(rank)) return rank;
  return 1;
}

/** A label as it begins: nothing said yet, and only for those inside. */
export function newLabel(labels: readonly Label[]): Omit<Label, 'id'> {
  let name = 'New label';
  for (let number = 2; labels.some((label) => label.name === name); number += 1) name = `New label ${number}`;
  return {
    name,
    rank: nextRank(labels),
    family: '',
    colour: '#2f6690',
    choosing: [{ language: 'en', when: '', not: '' }],
    handling: { ...OPEN_HANDLING, read: { kind: 'inside' }, 'pass-on': { kind: 'inside' } },
    markings: [{ place: 'top', text: '{label}', points: 9, colour: '#444444', slant: 0 }],
    carriers: ['document', 'mail'],
    foreign: [],
    retired: false,
  };
}
