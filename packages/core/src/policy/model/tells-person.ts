import type { Band } from './rule.js';

/** Whether the person learns of an answer: of every one but a note, and of a note where they are asked who they are. */
export function tellsPerson({ answer, treatments }: Pick<Band, 'answer' | 'treatments'>): boolean {
  return answer !== 'note' || treatments.some(({ kind }) => kind === 'ask-who');
}
