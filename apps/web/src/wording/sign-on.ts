import { SIGN_ON_FAILURES } from '@lantern/contracts/sign-on';

/** Sentence for a failure code in the address; null for a code that is unknown. */
export function signOnSentence(code: string | null): string | null {
  return Object.entries(SIGN_ON_FAILURES).find(([known]) => known === code)?.[1] ?? null;
}
