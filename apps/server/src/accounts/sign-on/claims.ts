import { createHash } from 'node:crypto';
import type { GroupRoles, SignOnFailureCode } from '@lantern/contracts/sign-on';

/** Groups that a claim can name; what stands behind these is another thing than a list of groups. */
const MOST_GROUPS = 2_000;

/** Who somebody is, as the provider says. */
export interface Claimed {
  /** SHA-256 over issuer and subject: no address, which changes hands (OpenID Connect Core 1.0, 5.7). */
  readonly key: string;
  readonly name: string;
  readonly email: string;
  /** The provider states that the address is theirs. Where it says nothing, it is good enough for a new account only. */
  readonly isVerified: boolean;
  readonly groups: readonly string[];
}

/** Reads the claims that matter; a code where one is missing. */
export function readClaims(
  claims: Readonly<Record<string, unknown>>,
  issuer: string,
  groupsClaim: string,
): Claimed | SignOnFailureCode {
  const { sub, email, name, email_verified: verified } = claims;
  if (typeof sub !== 'string' || sub === '') return 'not-accepted';
  if (typeof email !== 'string' || !/^[^\s@]+@[^\s@]+$/u.test(email) || email.length > 254)
    return 'no-address';
  // An address decides whose team somebody leads and what is their own: one that is not theirs is none.
  if (verified === false || verified === 'false') return 'no-address';
  return {
    key: createHash('sha256').update(`${issuer}\n${sub}`).digest('hex'),
    name: typeof name === 'string' && name.trim() !== '' ? name.trim().slice(0, 120) : email,
    email: email.toLowerCase(),
    // Some providers send the word instead of the truth value.
    isVerified: verified === true || verified === 'true',
    groups: groupsIn(claims[groupsClaim]),
  };
}

/** Groups as providers state them: a list of names, or one name. */
function groupsIn(claim: unknown): readonly string[] {
  const listed: readonly unknown[] = Array.isArray(claim) ? claim : [claim];
  return listed.slice(0, MOST_GROUPS).filter((group): group is string => typeof group === 'string');
}

/** Roles of somebody in these groups, each once, in the order of the mapping. */
export const rolesFor = (groups: readonly string[], mapping: readonly GroupRoles[]): string[] => [
  ...new Set(mapping.flatMap(({ group, roles }) => (groups.includes(group) ? roles : []))),
];
