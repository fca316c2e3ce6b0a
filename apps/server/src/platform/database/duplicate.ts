/** Whether a statement failed because a value is there already that must be there once (MariaDB error reference: 1062). */
export function isDuplicate(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'code' in error && error.code === 'ER_DUP_ENTRY';
}
