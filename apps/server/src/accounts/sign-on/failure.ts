import type { ErrorCode } from '@lantern/contracts';
import type { SignOnFailureCode } from '@lantern/contracts/sign-on';
import { AppError } from '../../platform/errors/app-error.js';

const SENTENCES: Readonly<Record<SignOnFailureCode, string>> = {
  unreachable: 'Your identity provider cannot be reached. Try again in a moment.',
  'not-accepted': 'The answer of your identity provider was not accepted. Sign in again.',
  'too-late': 'Signing in took too long, or began in another browser. Sign in again.',
  'no-role': 'None of your groups has a role here. Ask an administrator.',
  'no-address': 'Your identity provider did not send a verified mail address. Ask an administrator.',
  'address-taken': 'Another account has your mail address here. Ask an administrator.',
  disabled: 'Your account is disabled here. Ask an administrator.',
  'not-set-up': 'Single sign-on is not set up here.',
};

const CODES: Partial<Record<SignOnFailureCode, ErrorCode>> = {
  unreachable: 'server-unreachable',
  'not-set-up': 'not-found',
};

/** Why single sign-on failed: with a code for the page that the browser comes back to. */
export class SignOnFailure extends AppError {
  constructor(readonly why: SignOnFailureCode) {
    super(CODES[why] ?? 'not-permitted', SENTENCES[why]);
  }
}
