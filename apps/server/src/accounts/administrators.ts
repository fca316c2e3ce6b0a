import { AppError } from '../platform/errors/app-error.js';
import type { AccountEntity } from './account.entity.js';

/** Throws `last-administrator` where none of these accounts could manage accounts any more. */
export function demandAdministrator(accounts: readonly AccountEntity[]): void {
  const left = accounts.some(
    ({ kind, disabledAt, invitedAt, permissions }) =>
      kind !== 'service' && !disabledAt && !invitedAt && permissions.includes('accounts.manage'),
  );
  if (!left)
    throw new AppError(
      'last-administrator',
      'This is the last account that may manage accounts. Give another one that role first.',
    );
}
