import type { TrailCheck, TrailEntry } from '@lantern/contracts';

/** What was done, by the code or the route that the trail holds. */
const ACTS: Readonly<Record<string, string>> = {
  'signed-in': 'Signed in',
  'signed-out': 'Signed out',
  'sign-in-failed': 'Sign-in failed',
  'password-chosen': 'Chose a password with a link',
  'trail-exported': 'Exported the audit trail',
  'POST /accounts': 'Invited an account',
  'PUT /accounts/:id': 'Changed an account',
  'POST /accounts/:id/reset': 'Reset a password',
  'PUT /own-account/password': 'Changed their own password',
  'POST /own-account/factor': 'Began to set up a second factor',
  'PUT /accounts/factor-roles': 'Changed which roles need a second factor',
  'PUT /own-account/factor': 'Turned on their second factor',
  'POST /own-account/factor/removal': 'Turned off their second factor',
  'DELETE /own-account/sessions': 'Ended their other sessions',
  'DELETE /own-account/sessions/:id': 'Ended a session',
  'POST /revisions': 'Published a revision',
  'POST /policies': 'Created a policy',
  'PUT /policies/:id': 'Saved a policy',
  'DELETE /policies/:id': 'Removed a policy',
  'POST /agents': 'Created an agent key',
  'DELETE /agents/:id': 'Revoked an agent key',
  'PUT /channels/:channel': 'Changed a channel',
  'POST /incidents/:number/unmaskings': 'Showed values of an incident',
  'POST /incidents/:number/acts': 'Decided or handed on an incident',
  'POST /incidents/:number/notes': 'Added a note to an incident',
  'POST /insight/prevent/take': 'Changed a draft to prevent false positives',
  'POST /insight/weights/take': 'Put learned weights into the draft',
  'POST /insight/reports': 'Created a report',
  'PUT /insight/reports/:id': 'Saved a report',
  'DELETE /insight/reports/:id': 'Deleted a report',
  'POST /insight/reports/:id/runs': 'Ran a report',
  'POST /replays': 'Started a replay',
  'POST /revisions/:number/again': 'Published an earlier revision again',
  'POST /waiting/:id/decision': 'Decided an override request',
  'DELETE /trusts/:id': 'Ended a confirmed identity early',
  'PUT /policies/order': 'Changed the order of policies',
  'POST /set': 'Imported policies and patterns',
  'POST /patterns': 'Created a pattern',
  'POST /patterns/expressions': 'Created a pattern',
  'PUT /patterns/:id': 'Saved a pattern',
  'PUT /patterns/:id/expression': 'Saved a pattern',
  'PUT /patterns/:id/weights': 'Changed the weights of a pattern',
  'DELETE /patterns/:id': 'Removed a pattern',
  'POST /records': 'Imported records',
  'PUT /records/:id': 'Imported records again',
  'POST /document-patterns': 'Created a document pattern',
  'PUT /document-patterns/:id': 'Saved a document pattern',
  'POST /specimens': 'Added a specimen',
  'PUT /specimens/:id': 'Saved a specimen',
  'DELETE /specimens/:id': 'Removed a specimen',
  'PUT /journal/:channel': 'Changed the journal',
  'POST /labels/labels': 'Created a label',
  'PUT /labels/labels/:id': 'Saved a label',
  'POST /labels/offers': 'Created an offer',
  'PUT /labels/offers/:id': 'Saved an offer',
  'POST /labels/automatic': 'Created an automatic rule',
  'PUT /labels/automatic/:id': 'Saved an automatic rule',
  'DELETE /labels/:kind/:id': 'Removed a part of the labels',
  'POST /labels/sign-offs': 'Signed off a label',
  'POST /labels/text': 'Imported labels',
  'POST /label-runs': 'Started a label run',
  'POST /label-runs/:id/stop': 'Stopped a label run',
  'POST /label-runs/:id/resume': 'Resumed a label run',
  'POST /label-runs/:id/undo': 'Undid a label run',
  'POST /discovery/readers/codes': 'Made a code for a reader',
  'PUT /discovery/readers/:id/cost': 'Changed what a reader may cost',
  'DELETE /discovery/readers/:id': 'Withdrew a reader',
  'POST /crossings/breaches/told': 'Told owners about automations in breach',
  'GET /crossings/breaches/export': 'Exported what is in breach',
  'POST /crossings/:kind': 'Added a service, a workspace or a set',
  'PUT /crossings/:kind/:id': 'Changed a service, a workspace or a set',
  'DELETE /crossings/:kind/:id': 'Removed a service, a workspace or a set',
  'PUT /discovery/watching/:group': 'Changed what a group of machines watches',
  'POST /discovery/places': 'Added a place',
  'PUT /discovery/places/:id': 'Changed a place',
  'DELETE /discovery/places/:id': 'Removed a place with its results',
  'POST /discovery/places/:id/check': 'Had a place checked',
  'PUT /discovery/places/:id/label': 'Labelled a place',
  'POST /discovery/places/:id/withdraw': 'Ended access from outside to a place',
  'POST /discovery/jobs': 'Added a discovery job',
  'PUT /discovery/jobs/:id': 'Changed a discovery job',
  'DELETE /discovery/jobs/:id': 'Removed a discovery job',
  'POST /discovery/jobs/:id/runs': 'Started a discovery run',
  'POST /discovery/runs/:id/pause': 'Paused a discovery run',
  'POST /discovery/runs/:id/resume': 'Went on with a discovery run',
  'POST /discovery/runs/:id/stop': 'Stopped a discovery run',
  'GET /discovery/items/export': 'Exported what was found',
  'POST /discovery/acts': 'Changed items that were found',
  'POST /directory/people': 'Added a person to the directory',
  'PUT /directory/people/:id': 'Changed a person of the directory',
  'DELETE /directory/people/:id': 'Removed a person from the directory',
  'POST /directory/groups': 'Created a group by condition',
  'PUT /directory/groups/:id': 'Changed a group by condition',
  'DELETE /directory/groups/:id': 'Removed a group by condition',
  'PUT /directory/organisation': 'Changed own domains',
  'PUT /directory/partners': 'Saved a partner',
  'DELETE /directory/partners/:address': 'Removed a partner',
  'POST /directory/comparisons/:id/apply': 'Imported people',
  'PUT /directory/server': 'Changed the directory server',
  'DELETE /directory/server': 'Removed the directory server',
  'PUT /retention/kinds/:kind': 'Changed retention',
  'POST /retention/holds': 'Added a legal hold',
  'POST /retention/holds/:id/end': 'Ended a legal hold',
  'person-data-shown': 'Viewed data about a person',
  'person-data-deleted': 'Deleted data about a person',
  'deleted-by-age': 'Deleted old data',
  'POST /texts': 'Created a message',
  'PUT /texts/:id': 'Saved a message',
  'DELETE /texts/:id': 'Removed a message',
  'POST /exchanges': 'Approved an exchange',
  'PUT /exchanges/:id': 'Saved an approved exchange',
  'DELETE /exchanges/:id': 'Removed an approved exchange',
  'POST /spots': 'Created a location',
  'PUT /spots/:id': 'Saved a location',
  'DELETE /spots/:id': 'Removed a location',
};

export function actWords({ action }: Pick<TrailEntry, 'action'>): string {
  return ACTS[action] ?? action;
}

/** Acts that people look for, by their words. */
export const NAMED_ACTS = Object.entries(ACTS)
  .map(([value, label]) => ({ value, label }))
  .sort((left, right) => left.label.localeCompare(right.label, 'en'));

export function checkWords({ whole, entries, brokenAt, why }: TrailCheck): string {
  if (whole)
    return `The trail is whole: all ${entries.toLocaleString('en')} entries are as they were written.`;
  switch (why) {
    case 'changed':
      return `Entry ${brokenAt} is not as it was written. Everything before it is.`;
    case 'missing':
      return `Entry ${brokenAt} is missing. Everything before it is as it was written.`;
    case 'cut-off':
      return `The end of the trail is missing from entry ${brokenAt} on.`;
    default:
      return 'The signature of the end of the trail is not valid. The key has changed, or somebody wrote it anew.';
  }
}
