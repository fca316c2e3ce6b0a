import { ValidationPipe } from '@nestjs/common';
import type { ValidationError } from 'class-validator';
import { AppError } from './app-error.js';

/** Checks every request against its contract; the answer names each field at fault. */
export function validationPipe(): ValidationPipe {
  return new ValidationPipe({
    whitelist: true,
    forbidNonWhitelisted: true,
    transform: true,
    validationError: { target: false, value: false },
    exceptionFactory: (errors) => {
      const fields = errors.flatMap((error) => flatten(error, ''));
      const first = fields[0];
      return new AppError(
        'invalid-request',
        first ? `${first.field}: ${first.message}` : 'The request is not valid.',
        { fields },
      );
    },
  });
}

function flatten(error: ValidationError, prefix: string): { field: string; message: string }[] {
  const field = `${prefix}${error.property}`;
  const own = Object.values(error.constraints ?? {}).map((message) => ({ field, message }));
  return [...own, ...(error.children ?? []).flatMap((child) => flatten(child, `${field}.`))];
}
