import type { PatternId } from '../../shared/brand.js';
import { luhn } from '../check-methods.js';
import type { CheckResult, ReadyPattern } from '../pattern.js';

/** Issuer ranges by leading digits with the lengths in use. Source: ISO/IEC 7812; ranges as the networks publish them (from memory). */
const RANGES: readonly { readonly from: string; readonly to: string; readonly lengths: readonly number[] }[] =
  [
    { from: '4', to: '4', lengths: [13, 16, 19] },
    { from: '51', to: '55', lengths: [16] },
    { from: '2221', to: '2720', lengths: [16] },
    { from: '34', to: '34', lengths: [15] },
    { from: '37', to: '37', lengths: [15] },
    { from: '300', to: '305', lengths: [14, 16, 19] },
    { from: '36', to: '36', lengths: [14, 16, 19] },
    { from: '38', to: '39', lengths: [14, 16, 19] },
    { from: '6011', to: '6011', lengths: [16, 19] },
    { from: '644', to: '649', lengths: [16, 19] },
    { from: '65', to: '65', lengths: [16, 19] },
    { from: '3528', to: '3589', lengths: [16, 19] },
    { from: '62', to: '62', lengths: [16, 17, 18, 19] },
    { from: '5018', to: '5018', lengths: [12, 13, 14, 15, 16, 17, 18, 19] },
    { from: '5020', to: '5020', lengths: [12, 13, 14, 15, 16, 17, 18, 19] },
    { from: '5038', to: '5038', lengths: [12, 13, 14, 15, 16, 17, 18, 19] },
    { from: '6304', to: '6304', lengths: [12, 13, 14, 15, 16, 17, 18, 19] },
    { from: '2200', to: '2204', lengths: [16, 17, 18, 19] },
  ];

function inIssuedRange(digits: string): boolean {
  return RANGES.some(({ from, to, lengths }) => {
    const lead = digits.slice(0, from.length);
    return lead >= from && lead <= to && lengths.includes(digits.length);
  });
}

function checkCard(written: string): CheckResult {
  const canonical = written.replace(/[ -]/g, '');
  const allTheSame = /^(\d)\1*$/.test(canonical);
  return {
    canonical,
    passes: !allTheSame && inIssuedRange(canonical) && luhn(canonical),
    grouped: canonical.length !== written.length,
  };
}

export const paymentCard: ReadyPattern = {
  origin: 'ready',
  id: 'payment-card' as PatternId,
  name: 'Payment card number',
  kind: 'payment',
  countries: [],
  about: 'The number on the front of a credit, debit or prepaid card, 12 to 19 digits.',
  expression:
    '(?<![0-9A-Za-z])(?:[2-6]\\d{3}([ -]?)\\d{4}\\1\\d{4}\\1\\d{4}(?:\\1\\d{3})?|3\\d{3}([ -]?)\\d{6}\\2\\d{4,5}|[2-6]\\d{11,18})(?![0-9A-Za-z])',
  checkName: 'Luhn',
  accidentalShare: 0.1,
  check: checkCard,
  weights: {
    shape: -4.4,
    structure: 1.9,
    check: Math.log(10),
    grouping: 0.5,
    supportingWord: 4,
    heading: 3.8,
    counterWord: -3.2,
    testValue: -0.8,
  },
  supportingWords: [
    'card',
    'cards',
    'cardnumber',
    'cardno',
    'creditcard',
    'cc',
    'credit',
    'debit',
    'cardholder',
    'cvv',
    'cvc',
    'expiry',
    'expires',
    'valid thru',
    'pan',
    'visa',
    'cvv2',
    'unionpay',
    'diners',
    'discover',
    'maestro',
    'mastercard',
    'amex',
    'karte',
    'kreditkarte',
    'kartennummer',
    'carte',
    'carte bancaire',
    'tarjeta',
    'carta di credito',
    'cartão',
    'kaart',
    'kort',
    'betalkort',
    'kortnummer',
    'kortti',
    'karta',
    'refund',
    'payment',
  ],
  counterWords: [
    'tracking',
    'parcel',
    'shipment',
    'consignment',
    'waybill',
    'order number',
    'order no',
    'invoice',
    'reference',
    'ref',
    'serial',
    'ticket',
    'article',
    'isbn',
    'imei',
    'container',
    'sendungsnummer',
    'auftragsnummer',
    'meter',
  ],
  // Test numbers that payment networks and processors publish for their sandboxes (from memory).
  testValues: [
    '4111111111111111',
    '4012888888881881',
    '4242424242424242',
    '5555555555554444',
    '5105105105105100',
    '2223003122003222',
    '378282246310005',
    '371449635398431',
    '6011111111111117',
    '6011000990139424',
    '3530111333300000',
    '30569309025904',
    '38520000023237',
    '4222222222222',
    '6200000000000005',
  ],
  source: 'ISO/IEC 7812-1:2017',
  examples: {
    passing: ['Card: 4111 1111 1111 1111', 'card number 378282246310005', 'Kreditkarte 5555-5555-5555-4444'],
    nearMisses: ['Card: 4111 1111 1111 1112', 'tracking number 4111111111111112', 'card 1234 5678 9012 3452'],
  },
};
