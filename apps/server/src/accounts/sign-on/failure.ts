import type { ErrorCode } from '@lantern/contracts';
import { SIGN_ON_FAILURES, type SignOnFailureCode } from '@lantern/contracts/sign-on';
import { AppError } from '../../platform/errors/app-error.js';

const CODES: Partial<Record<SignOnFailureCode, ErrorCode>> = {
  unreachable: 'server-unreachable',
  'not-set-up': 'not-found',
};

/** Why single sign-on failed: with a code for the page that the browser comes back to. */
export class SignOnFailure extends AppError {
  constructor(readonly why: SignOnFailureCode) {
    super(CODES[why] ?? 'not-permitted', SIGN_ON_FAILURES[why]);
  }
}
