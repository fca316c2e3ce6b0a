import type { Evidence } from '../model/evidence.js';
import { lookOfAddress } from './address-four.js';
import { lookOfSecret } from './secret-value.js';
import { isPlaceholder, isReference } from './stand-ins.js';
import { lookOfTelephone } from './telephone.js';

/** What a value looks like; the sentences are the web's. */
export type LookKind =
  | 'drawn'
  | 'spoken'
  | 'telephone-link'
  | 'grouped'
  | 'digits-alone'
  | 'mask'
  | 'unspecified'
  | 'loopback'
  | 'multicast'
  | 'reserved'
  | 'documentation'
  | 'private'
  | 'reachable'
  | 'version'
  | 'section';

/** What the look of a value says, in log-odds. */
export interface Look {
  readonly kind: LookKind;
  readonly weight: number;
}

/** How the look of a pattern's values is judged. */
export type LookCheck = 'any' | 'no-stand-in' | 'secret' | 'telephone' | 'address-four';

/** The most that a look can add, by how it is judged, in log-odds. */
export const MOST_FOR_LOOK: Readonly<Record<LookCheck, number>> = {
  any: 0,
  'no-stand-in': 0,
  secret: 3,
  telephone: 3,
  'address-four': 0.4,
};

/** Text beside a value that a look may depend on. */
const BESIDE = 24;
const QUOTES = '"\'`“„«‘';

/** A value where it stands. */
export interface StandingValue {
  readonly text: string;
  readonly start: number;
  readonly written: string;
}

/** What a value looks like: a look, nothing that counts, or `refused` where it cannot be the thing at all. */
export function lookAt(check: LookCheck, { text, start, written }: StandingValue): Look | null | 'refused' {
  switch (check) {
    case 'any':
      return null;
    case 'no-stand-in':
      return isPlaceholder(written) ? 'refused' : null;
    case 'secret':
      return secretAt(written, text[start - 1] ?? ' ', text[start + written.length] ?? ' ');
    case 'telephone': {
      const end = start + written.length;
      const before = text.slice(Math.max(0, start - BESIDE), start);
      return lookOfTelephone(written, before, text.slice(end, end + 1)) ?? 'refused';
    }
    case 'address-four':
      return lookOfAddress(written, text.slice(Math.max(0, start - BESIDE), start));
  }
}

function secretAt(written: string, before: string, after: string): Look | 'refused' {
  // A name with a colon or an opening bracket behind it begins the next line of a form, or a call.
  if (after === ':' || after === '(' || after === '[') return 'refused';
  if (isPlaceholder(written) || isReference(written, QUOTES.includes(before))) return 'refused';
  return secretLook(written);
}

/** The look of a secret as evidence. */
export function secretLook(written: string): Look {
  const weight = lookOfSecret(written);
  return { kind: weight > 0 ? 'drawn' : 'spoken', weight };
}

/** A look as one reason for or against a value. */
export const lookEvidence = ({ kind, weight }: Look): Evidence => ({ code: 'look', weight, detail: kind });
