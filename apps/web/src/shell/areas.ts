import type { OverviewView, Permission } from '@lantern/contracts';

/** A work area of the strip, in the order of the job. */
export interface Area {
  readonly to: string;
  readonly name: string;
  /** Who may not read it does not see it. */
  readonly needs: Permission;
  readonly figure: (overview: OverviewView) => string;
}

export const AREAS: readonly Area[] = [
  {
    to: '/patterns',
    name: 'Patterns',
    needs: 'patterns.read',
    figure: ({ patterns }) =>
      patterns.changed > 0 ? `${patterns.changed} changed` : `${patterns.total} in use`,
  },
  {
    to: '/labels',
    name: 'Labels',
    needs: 'labels.read',
    figure: ({ labels }) => draftFigure(labels, 'in use'),
  },
  {
    to: '/discovery',
    name: 'Discovery',
    needs: 'discovery.read',
    figure: ({ discovery: { exposed } }) => (exposed === 0 ? 'nothing exposed' : `${exposed} exposed`),
  },
  {
    to: '/policies',
    name: 'Policies',
    needs: 'policies.read',
    figure: ({ policies }) => draftFigure(policies, 'published'),
  },
  {
    to: '/automations',
    name: 'Automations',
    needs: 'policies.read',
    figure: ({ automations: { inBreach } }) => (inBreach === 0 ? 'none in breach' : `${inBreach} in breach`),
  },
  {
    to: '/incidents',
    name: 'Incidents',
    needs: 'incidents.read',
    figure: ({ incidents }) => `${incidents.open} waiting`,
  },
  {
    to: '/insight',
    name: 'Insight',
    needs: 'incidents.read',
    figure: ({ insight: { improve } }) =>
      improve === null ? 'figures' : improve === 0 ? 'nothing to improve' : `${improve} to improve`,
  },
];

function draftFigure({ total, changed, problems }: OverviewView['policies'], settled: string): string {
  if (problems > 0) return `${problems} ${problems === 1 ? 'problem' : 'problems'}`;
  return changed > 0 ? `${changed} changed` : `${total} ${settled}`;
}

/** Where an account begins: at the incidents, else at the work it may do. */
export function homeOf(permissions: readonly Permission[]): string {
  const may = (permission: Permission) => permissions.includes(permission);
  if (may('incidents.read')) return '/incidents';
  if (may('accounts.manage')) return '/administration/accounts';
  return may('labels.sign') ? '/labels' : (AREAS.find(({ needs }) => may(needs))?.to ?? '/account');
}
