import { AppError } from './app-error.js';

export const NOT_JSON = 'The request body is not valid JSON.';

/** The refusal for an error of a body reader (body-parser gives `status` and `type`); null for any other error. */
export function bodyRefusal(error: unknown): AppError | null {
  const { status, type } = (typeof error === 'object' && error !== null ? error : {}) as {
    readonly status?: number;
    readonly type?: string;
  };
  if (status === undefined || type === undefined) return null;
  if (status === 413)
    return new AppError('file-too-large', 'The request is larger than this address accepts.');
  if (type === 'entity.verify.failed')
    return new AppError('invalid-request', 'The request body is nested too deeply.');
  return new AppError('invalid-request', NOT_JSON);
}
