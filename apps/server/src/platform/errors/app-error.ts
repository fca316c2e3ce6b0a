import type { ErrorBody, ErrorCode } from '@lantern/contracts';

/** HTTP status of each refusal. */
const STATUS: Readonly<Record<ErrorCode, number>> = {
  'not-signed-in': 401,
  'wrong-credentials': 401,
  'second-factor-needed': 401,
  'wrong-code': 401,
  'link-over': 410,
  'weak-password': 422,
  'last-administrator': 409,
  'not-permitted': 403,
  'csrf-missing': 403,
  'too-many-requests': 429,
  'not-found': 404,
  'invalid-request': 400,
  'changed-meanwhile': 409,
  'second-person-needed': 409,
  'name-taken': 409,
  'in-use': 409,
  'problems-remain': 422,
  'expression-refused': 422,
  'specimens-change': 409,
  'too-many': 422,
  'too-many-leave': 409,
  'server-unreachable': 502,
  'file-refused': 422,
  'nothing-to-publish': 409,
  'label-needed': 422,
  'label-not-offered': 422,
  'label-forbids': 403,
  'reason-needed': 422,
  'bad-filter': 400,
  'act-refused': 409,
  'too-many-recipients': 422,
  'bad-address': 422,
  'no-recipients': 422,
  'file-too-large': 413,
  'too-many-files': 413,
  'unknown-agent': 401,
  'unknown-reader': 401,
  'key-used': 409,
  'from-the-future': 422,
  'empty-movement': 422,
  busy: 503,
  internal: 500,
};

/** The one base of expected refusals. The message is English for API clients and never holds inspected content. */
export class AppError extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly more: Pick<ErrorBody, 'fields' | 'details'> = {},
  ) {
    super(message);
  }

  get status(): number {
    return STATUS[this.code];
  }

  body(): ErrorBody {
    return { code: this.code, message: this.message, ...this.more };
  }
}
