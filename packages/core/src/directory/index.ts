export { domainOf, isDomain, isUnder } from './address.js';
export type { KnownPeople, PersonFacts } from './person.js';
export {
  AUDIENCE_KINDS,
  type Audience,
  type AudienceTerm,
  EVERYBODY,
  isEverybody,
  isMeant,
  termValue,
} from './audience.js';
export {
  type AudienceEffect,
  audienceEffects,
  type NamedAudience,
  type PersonStep,
  type VanishingName,
  vanishingNames,
} from './change/audience-effect.js';
export { type DirectoryEntry, peopleOfEntries } from './change/entries.js';
export {
  factsWith,
  GROUP_FIELDS,
  GROUP_TESTS,
  type GroupClause,
  type GroupField,
  groupsOf,
  type GroupRule,
  type GroupTest,
  isInGroup,
} from './change/group-rule.js';
export { COLUMN_MEANINGS, type ColumnMeaning, fieldsOfMeanings, meaningsOf } from './change/headings.js';
export { type LdifFault, type LdifReading, readLdif } from './change/ldif.js';
export {
  MAX_PEOPLE,
  PERSON_FIELDS,
  type PersonField,
  type PersonRecord,
  type ListedPerson,
} from './change/person-record.js';
export {
  type ChangedPerson,
  type DirectoryPlan,
  planChange,
  type RefusedLine,
  type Remark,
} from './change/plan-change.js';
export { peopleOfScim, SCIM_ENTERPRISE, type ScimGroup, type ScimUser } from './change/scim.js';
export { type ListedMachine, MAX_MACHINES, type MachineRecord } from './machines/machine-record.js';
export {
  compileMachineGroup,
  type MachineGroupRule,
  machineGroupFaults,
  machineGroupsOf,
  MOST_GROUP_LINES,
} from './machines/machine-groups.js';
export {
  type ListedPlace,
  placeMeaningsOf,
  placeOfRow,
  placesOfEntries,
  type PlacePlan,
  type PlaceRecord,
  type PlaceRefusal,
  planPlaces,
} from './places/plan-places.js';
export { machineEffects, type MachineTerm, type NamedMachines } from './machines/machine-effects.js';
export { machineMeaningsOf, machineOfRow, machinesOfEntries } from './machines/machines-told.js';
export { type MachinePlan, type MachineRefusal, planMachines } from './machines/plan-machines.js';
export { isInRange, readAddressRange } from './machines/ranges.js';
