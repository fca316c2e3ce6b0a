export {
  DEMO_ACCOUNTS,
  DEMO_PASSWORD,
  type DemoPartner,
  type DemoPerson,
  directory,
  ORGANISATION,
  PARTNERS,
} from './directory.js';
export { type DemoFile, refundList, refundRows } from './documents.js';
export { FIRST_REVISION, POLICIES, SLACKWATER } from './policies.js';
export { type DemoMail, traffic } from './traffic.js';
