export { AUTOMATIONS, CROSSINGS } from './crossings.js';
export {
  DEMO_ACCOUNTS,
  DEMO_ROLES,
  DEMO_PASSWORD,
  type DemoPartner,
  type DemoPerson,
  type DemoMachine,
  directory,
  machines,
  ORGANISATION,
  PARTNERS,
} from './directory.js';
export { type DemoFile, refundList, refundRows } from './documents.js';
export { type DemoPlace, type DemoPlaceFile, placeFiles, PLACES } from './places.js';
export { STARTER_LABELS } from './labels.js';
export { EXCHANGES, FIRST_REVISION, POLICIES, SLACKWATER, SPOTS, TEXTS } from './policies.js';
export { type DemoDriveFile, type DemoMove, type DemoRoom, driveFiles, moves, ROOMS } from './moves.js';
export { type DemoMail, traffic } from './traffic.js';
export type { DemoOutcome, DemoPastMovement } from './past/movement.js';
export { past } from './past/past.js';
