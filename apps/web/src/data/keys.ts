/** First part of the key of every query; what stands behind it narrows it down. */
export const KEYS = {
  accounts: 'accounts',
  addresses: 'addresses',
  /** Decisions about many incidents at once. */
  bulk: 'bulk',
  /** Services, what may cross between them, and the automations that do. */
  crossings: 'crossings',
  /** Who stands in for whom. */
  deputies: 'deputies',
  /** Documents of the stand-in, and choosers of labels. */
  desk: 'desk',
  /** Working hours and promised times. */
  deskSetting: 'desk-setting',
  /** Saved views of the desk. */
  deskViews: 'desk-views',
  /** People, groups, domains and partners, for those who keep them. */
  directory: 'directory',
  /** Places, jobs, readers and items found. */
  discovery: 'discovery',
  documentsJob: 'documents-job',
  doors: 'doors',
  /** Changes, problems and coverage of the drafts. */
  draft: 'draft',
  exchanges: 'exchanges',
  passkeys: 'passkeys',
  signOn: 'sign-on',
  /** Picture with which a second factor is set up. */
  factorPicture: 'factor-picture',
  highestOfFiles: 'highest-of-files',
  /** One incident by its number. */
  incident: 'incident',
  /** Web hooks and their deliveries. */
  hooks: 'hooks',
  /** Lists of incidents. */
  incidents: 'incidents',
  /** Figures over periods. */
  insight: 'insight',
  journal: 'journal',
  labelRuns: 'label-runs',
  /** The ledger of the stand-in. */
  ledger: 'ledger',
  labels: 'labels',
  lanternSet: 'lantern-set',
  mailbox: 'mailbox',
  overview: 'overview',
  /** Where the signed-in account is signed in. */
  ownSessions: 'own-sessions',
  patterns: 'patterns',
  people: 'people',
  places: 'places',
  /** Who has an incident open. */
  presence: 'presence',
  /** Changes that would have prevented false positives. */
  prevent: 'prevent',
  policies: 'policies',
  /** A question behind a link. */
  question: 'question',
  recordJob: 'record-job',
  /** Reports on a schedule, and their runs. */
  reports: 'reports',
  replays: 'replays',
  /** How long things are kept, legal holds, what is kept about a person. */
  retention: 'retention',
  revisions: 'revisions',
  /** Routing rules and watches. */
  routing: 'routing',
  schema: 'schema',
  session: 'session',
  specimens: 'specimens',
  spots: 'spots',
  texts: 'texts',
  /** Rooms, messages, pages, files and mail of the stand-ins. */
  things: 'things',
  /** Entries of the audit trail. */
  trail: 'trail',
  /** Pending decisions. */
  waiting: 'waiting',
  /** Links of invitations. */
  welcome: 'welcome',
  /** Who is believed for a while, and what phones show. */
  trusts: 'trusts',
} as const;
export type Key = (typeof KEYS)[keyof typeof KEYS];
