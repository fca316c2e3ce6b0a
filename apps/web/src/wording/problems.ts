import type { Problem, ProblemCode } from '@lantern/core';

const SENTENCES: Readonly<Record<ProblemCode, (value: string) => string>> = {
  'no-name': () => 'The policy has no name. Give it one that says what it guards.',
  'duplicate-name': (value) => `Another policy is called "${value}". Incidents could not be told apart.`,
  'no-rules': () => 'The policy has no rule yet. Add one, or it does nothing.',
  'no-channel': () => 'The policy names no channel.',
  'certainty-out-of-range': (value) =>
    `A certainty of ${value} does not exist; it goes from 0 to 100. The draft is kept.`,
  'count-out-of-range': (value) => `${value} is no count to wait for; use a whole number from 1 to 100,000.`,
  'unknown-pattern': () => 'The rule looks for a pattern that is gone. Choose another.',
  'empty-group': () => 'A group of clauses is empty. Put a clause in, or take the group out.',
  'nested-too-deep': () => 'Clauses are nested too deep to be read as a sentence. Make two rules of it.',
  'no-domains': () => 'The clause names no domain.',
  'not-a-domain': (value) => `"${value}" is no domain. Write it like partner.example.`,
  'answer-not-on-channel': (value) => `This answer is not possible here yet (${value}).`,
  'answer-without-text': () => 'The sender would be stopped without a word. Write what they should read.',
  'never-reached': () => 'An earlier rule ends this policy for everything, so this one is never read.',
};

export function problemSentence(problem: Problem): string {
  return SENTENCES[problem.code](problem.value ?? '');
}
