import type { PeriodQuery } from '@lantern/contracts/insight';
import { MAX_PERIOD_DAYS, type Period } from '@lantern/core/insight';
import { AppError } from '../../platform/errors/app-error.js';

const DAY_MS = 86_400_000;

/** The period of a request; throws `invalid-request` for one that is empty or longer than 20 years. */
export function periodOf({ from, to }: Pick<PeriodQuery, 'from' | 'to'>): Period {
  const period = { from: Date.parse(from), to: Date.parse(to) };
  const refused = (field: 'from' | 'to', message: string) =>
    new AppError('invalid-request', `The period ${message}.`, { fields: [{ field, message }] });
  if (Number.isNaN(period.from)) throw refused('from', 'begins on a date that does not exist');
  if (Number.isNaN(period.to)) throw refused('to', 'ends on a date that does not exist');
  if (period.from >= period.to) throw refused('to', 'ends before it begins');
  if (period.to - period.from > MAX_PERIOD_DAYS * DAY_MS)
    throw refused('from', 'is longer than 20 years, which is more than is kept');
  return period;
}
