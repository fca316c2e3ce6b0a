import type { Treatment } from '@lantern/core/policy';

/** A subject with the marks of its treatments before it, each once. */
export function marked(subject: string, treatments: readonly Treatment[]): string {
  const words = treatments.flatMap((each) => (each.kind === 'mark' ? [each.words.trim()] : []));
  return words
    .filter((word) => word !== '' && !subject.startsWith(word))
    .reduceRight((text, word) => `${word} ${text}`, subject);
}
