import { type Audience, EVERYBODY, isMeant, type PersonFacts } from '@lantern/core/directory';
import { AppError } from '../../platform/errors/app-error.js';

const HOUR_MS = 3_600_000;

/** For whom an agent may submit, and how old a movement may be; null for no limit. */
export interface AgentLimits {
  readonly people: Audience | null;
  readonly hoursBack: number | null;
}

/** Whether the agent may submit in the name of a person. */
export function speaksFor({ people }: Pick<AgentLimits, 'people'>, person: PersonFacts): boolean {
  return isMeant(people ?? EVERYBODY, person);
}

/** Throws `not-permitted` for a person or a time beyond the agent's limits. */
export function demandAllowed(
  limits: AgentLimits,
  { person, at, now }: { readonly person: PersonFacts; readonly at: Date; readonly now: Date },
): void {
  if (!speaksFor(limits, person))
    throw new AppError(
      'not-permitted',
      'This key may not submit movements of this person. Nothing was kept. Ask for a wider key in the workbench.',
    );
  const { hoursBack } = limits;
  if (hoursBack !== null && now.getTime() - at.getTime() > hoursBack * HOUR_MS)
    throw new AppError(
      'not-permitted',
      `This key may submit movements of the last ${hoursBack} hours only. Nothing was kept.`,
    );
}
