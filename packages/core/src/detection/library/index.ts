import type { ReadyPattern } from '../model/pattern.js';
import { BANK_INTERNATIONAL } from './bank-international.js';
import { BANK_NATIONAL } from './bank-national.js';
import { CARGO } from './cargo.js';
import { CONTACT } from './contact.js';
import { HEALTH } from './health.js';
import { AFRICA_MIDDLE_EAST } from './national/africa-middle-east.js';
import { AMERICAS } from './national/americas.js';
import { ASIA_PACIFIC } from './national/asia-pacific.js';
import { EUROPE_EAST } from './national/europe-east.js';
import { EUROPE_NORTH } from './national/europe-north.js';
import { EUROPE_SOUTH } from './national/europe-south.js';
import { EUROPE_WEST } from './national/europe-west.js';
import { NETWORK } from './network.js';
import { PAYMENT } from './payment.js';
import { SECRETS } from './secrets/keys.js';
import { TRAVEL } from './travel.js';
import { VEHICLE } from './vehicle.js';

/** Every pattern that ships with the product, in the order in which lists show them. */
export const READY_PATTERNS: readonly ReadyPattern[] = [...PAYMENT, ...BANK_INTERNATIONAL, ...BANK_NATIONAL, ...EUROPE_NORTH, ...EUROPE_WEST, ...EUROPE_SOUTH, ...EUROPE_EAST, ...AMERICAS, ...ASIA_PACIFIC, ...AFRICA_MIDDLE_EAST, ...TRAVEL, ...HEALTH, ...CONTACT, ...NETWORK, ...SECRETS, ...VEHICLE, ...CARGO];
