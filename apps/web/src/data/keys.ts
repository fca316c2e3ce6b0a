/** First part of the key of every query; what stands behind it narrows it down. */
export const KEYS = {
  addresses: 'addresses',
  /** Documents of the stand-in, and choosers of labels. */
  desk: 'desk',
  documentsJob: 'documents-job',
  doors: 'doors',
  /** Changes, problems and coverage of the drafts. */
  draft: 'draft',
  exchanges: 'exchanges',
  highestOfFiles: 'highest-of-files',
  /** One incident by its number. */
  incident: 'incident',
  /** Lists of incidents. */
  incidents: 'incidents',
  journal: 'journal',
  labelRuns: 'label-runs',
  labels: 'labels',
  lanternSet: 'lantern-set',
  mailbox: 'mailbox',
  overview: 'overview',
  patterns: 'patterns',
  people: 'people',
  places: 'places',
  policies: 'policies',
  recordJob: 'record-job',
  replays: 'replays',
  revisions: 'revisions',
  schema: 'schema',
  session: 'session',
  specimens: 'specimens',
  spots: 'spots',
  texts: 'texts',
  /** Rooms, messages, pages, files and mail of the stand-ins. */
  things: 'things',
  /** Pending decisions. */
  waiting: 'waiting',
} as const;
export type Key = (typeof KEYS)[keyof typeof KEYS];
