import type { Filter } from '@lantern/core/incidents';
import { type Plan, planOf } from '@lantern/core/insight';
import type { HeldLimits } from '../../platform/auth/grants.js';
import type { Looking } from '../queue/columns.js';
import { type FilterContext, idsOf } from '../queue/compile-filter.js';

/** A filter with what the viewer may see, as columns test it; null where the database has to. Held to `whereOf` by a test. */
export function planOfLooking(
  filter: Filter,
  { sight, now }: Looking,
  { names }: Pick<FilterContext, 'names'>,
): Plan | null {
  const plan = planOf(filter, {
    now: now.getTime(),
    idsOf: (kind, operator, value) => idsOf(kind, operator, value, names),
  });
  if (!plan || sight.limits === null) return plan;
  return { kind: 'and', parts: [plan, { kind: 'or', parts: sight.limits.map(planOfLimits) }] };
}

/** Limits are about the whole incident. An empty list limits nothing. */
function planOfLimits({ departments, channels, severities, policies, ownTeam, holder }: HeldLimits): Plan {
  const among = (
    field: 'department' | 'channel' | 'severity' | 'policy',
    values: readonly string[],
  ): Plan[] => (values.length === 0 ? [] : [{ kind: 'among', field, values, ofIncident: true }]);
  return {
    kind: 'and',
    parts: [
      ...among('department', departments),
      ...among('channel', channels),
      ...among('severity', severities),
      ...among('policy', policies),
      ...(ownTeam ? [{ kind: 'among', field: 'manager', values: [holder] } as const] : []),
    ],
  };
}
