import type { ReadyPattern } from '../pattern.js';
import { iban } from './bank.js';
import { paymentCard } from './payment.js';
import { passportLines } from './travel.js';

/** Every pattern that ships with the product, in the order in which lists show them. */
export const READY_PATTERNS: readonly ReadyPattern[] = [paymentCard, iban, passportLines];
