import { SIGN_ON_FAILURES, type SignOnFailureCode } from '@lantern/contracts/sign-on';

/** What a person reads when they come back from the identity provider without being signed in. */
const FAILURES: Readonly<Record<SignOnFailureCode, string>> = {
  unreachable: 'Your identity provider cannot be reached. Try again in a moment.',
  'not-accepted': 'The answer of your identity provider was not accepted. Sign in again.',
  'too-late': 'Signing in took too long, or began in another browser. Sign in again.',
  'no-role': 'None of your groups has a role here. Ask an administrator.',
  'no-address': 'Your identity provider did not send a verified mail address. Ask an administrator.',
  'address-taken': 'Another account has your mail address here. Ask an administrator.',
  disabled: 'Your account is disabled here. Ask an administrator.',
  'not-set-up': 'Single sign-on is not set up here.',
};

/** The sentence for a code in the address; null for none that we know. */
export function signOnSentence(code: string | null): string | null {
  const known = SIGN_ON_FAILURES.find((each) => each === code);
  return known ? FAILURES[known] : null;
}
