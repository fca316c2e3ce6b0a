export { domainOf, isDomain, isUnder } from './address.js';
export type { KnownPeople, PersonFacts } from './person.js';
export { type Audience, type AudienceTerm, EVERYBODY, isEverybody, isMeant, termValue } from './audience.js';
