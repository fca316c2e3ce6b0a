import type { Band } from './rule.js';

/** Whether the person gets a notice: for every answer except a note without a request for a second factor. */
export function tellsPerson({ answer, treatments }: Pick<Band, 'answer' | 'treatments'>): boolean {
  return answer !== 'note' || treatments.some(({ kind }) => kind === 'ask-who');
}
