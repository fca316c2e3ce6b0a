import type { WholeLabelSet } from '@lantern/core/labels';
import { AppError } from '../../platform/errors/app-error.js';
import { stable } from '../../published/draft-state.js';

/**
 * Refuses to label by rules that are not in force as they were looked at: a preview may try a draft, stored files are
 * labelled by what somebody published.
 */
export function demandPublished(
  rules: WholeLabelSet['automatic'],
  inForce: Pick<WholeLabelSet, 'automatic'>,
): void {
  const published = new Map(inForce.automatic.map((rule) => [String(rule.id), stable(rule)]));
  const other = rules.find((rule) => published.get(String(rule.id)) !== stable(rule));
  if (other)
    throw new AppError(
      'act-refused',
      `"${other.name}" has changes that are not published. Publish it first. Nothing was started.`,
    );
}
