import type { Permission } from '@lantern/contracts';
import type { RoleLimits, TwoPeopleKind } from '@lantern/contracts/access';
import { CHANNEL_WORDS, SEVERITY_WORDS } from './terms';

/** What a permission allows. */
export const PERMISSION_WORDS: Readonly<Record<Permission, string>> = {
  'patterns.read': 'Read patterns',
  'patterns.write': 'Write patterns',
  'policies.read': 'Read policies, coverage and automations',
  'policies.write': 'Write policies',
  'policies.publish': 'Publish changes',
  'policies.silent': 'See silent rules and their incidents',
  'replay.run': 'Replay traffic and read replays',
  'labels.read': 'Read labels',
  'labels.write': 'Write labels',
  'labels.sign': 'Sign labels off for the business',
  'labels.run': 'Label stored files',
  'journal.set': 'Set the journal, retention and legal holds',
  'overrides.decide': 'Decide override requests',
  'incidents.read': 'Read incidents with values masked',
  'incidents.decide': 'Decide incidents',
  'incidents.unmask': 'Show values, with a reason',
  'incidents.respond': 'Contact people and open tickets',
  'incidents.route': 'Set routing, web hooks, reports and promised times',
  'lantern.use': 'Try content in the Lantern',
  'people.read': 'Look up people',
  'people.manage': 'Change the directory',
  'agents.manage': 'Manage agent keys and channels',
  'stand-ins.use': 'Use the stand-ins',
  'accounts.manage': 'Manage accounts and roles',
  'trail.read': 'Read the audit trail',
  'discovery.read': 'Read places and what was found there',
  'discovery.run': 'Scan places, label and quarantine',
  'discovery.manage': 'Add readers and places',
};

/** Permissions by what they are about, as a person looks for them. */
export const PERMISSION_GROUPS: readonly (readonly [string, readonly Permission[]])[] = [
  ['Incidents', ['incidents.read', 'incidents.decide', 'incidents.unmask', 'incidents.respond']],
  ['People and requests', ['overrides.decide', 'people.read']],
  ['Patterns and labels', ['patterns.read', 'patterns.write', 'labels.read', 'labels.write', 'labels.sign']],
  ['Policies', ['policies.read', 'policies.write', 'policies.publish', 'replay.run', 'lantern.use']],
  ['Places', ['discovery.read', 'discovery.run', 'discovery.manage', 'labels.run']],
  [
    'Administration',
    [
      ...(['incidents.route', 'agents.manage', 'people.manage', 'journal.set'] as const),
      ...(['trail.read', 'accounts.manage', 'stand-ins.use'] as const),
    ],
  ],
];

/** Acts that can take two people. */
export const TWO_PEOPLE_WORDS: Readonly<Record<TwoPeopleKind, string>> = {
  publish: 'Publishing changes',
  machines: 'Changing settings of machine groups',
  override: 'Allowing an override or a held movement',
  'unmask-silent': 'Showing values of incidents that silent rules made',
};

/** What a role is limited to, in one line. */
export function limitsLine(limits: RoleLimits | null, nameOf: (policy: string) => string): string {
  if (!limits) return 'everyone';
  const parts = [
    limits.ownTeam ? 'people who report to the holder' : '',
    limits.departments.join(' or '),
    limits.policies.map(nameOf).join(' or '),
    limits.channels.map((channel) => CHANNEL_WORDS[channel].toLowerCase()).join(' or '),
    limits.severities.length > 0
      ? `severity ${limits.severities.map((severity) => SEVERITY_WORDS[severity].toLowerCase()).join(' or ')}`
      : '',
    limits.hidesNames ? 'names hidden' : '',
  ];
  return parts.filter(Boolean).join('; ');
}
