export { Authenticator, type Flaws } from './authenticator.js';
export { automaticOf } from './automatic.js';
export { docxFile, emlFile, type MailFields, type Rows, xlsxFile } from './documents.js';
export { cardNumber, grouped, ibanNumber, luhnDigit, passportLines } from './numbers.js';
export { chance, type Chance } from './random.js';
export { HOSTILE_FILES } from './hostile-files.js';
export { zipBomb, zipFile } from './zip.js';
export { oneDigitOff, transposed, valueOf } from './values.js';
export { corpusMails, type CorpusMail } from './mails.js';
export { type NetworkApart, networkApart } from './network-apart.js';
export { freePort, ownCertificate, running, type TestServer } from './servers.js';
export { sentencesFor } from './sentences.js';
export { type SecretCase, secretCases } from './secrets.js';
export { type Contained, CONTAINERS, nameOf } from './containers.js';
export {
  bandOf,
  cardsFound,
  findingOf,
  findingsAsked,
  mailOf,
  policyOf,
  ruleOf,
  setOf,
  SOME_TEXT,
  SOME_TIME,
  TO_OUTSIDE,
} from './policies.js';
export { someAudience, someCondition, someLeaf, someMovement, someSet } from './random-policies.js';
