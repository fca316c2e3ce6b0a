import type { AccountView, Role } from '@lantern/contracts';

/** What a role is called, and what its holder does. */
export const ROLE_WORDS: Readonly<Record<Role, { readonly name: string; readonly does: string }>> = {
  'first-line': { name: 'First-line analyst', does: 'reads incidents with values masked and decides them' },
  'second-line': {
    name: 'Second-line analyst',
    does: 'also shows values with a reason, and replays traffic',
  },
  'policy-author': {
    name: 'Policy author',
    does: 'writes patterns, labels and policies, without publishing',
  },
  approver: { name: 'Approver', does: 'publishes changes and decides override requests' },
  business: { name: 'Business reader', does: 'reads labels and signs them off' },
  auditor: { name: 'Auditor', does: 'reads everything that was decided, and the audit trail' },
  administrator: {
    name: 'Administrator',
    does: 'manages accounts, the directory, agents and retention; decides no incidents',
  },
};

export const ACCOUNT_STATE_WORDS: Readonly<Record<AccountView['state'], string>> = {
  invited: 'Invited',
  active: 'Active',
  disabled: 'Disabled',
};
