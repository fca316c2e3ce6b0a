import type { ListedPerson, PersonRecord } from './person-record.js';

/** Schema of the attributes of an employee (RFC 7643, 4.3). */
export const SCIM_ENTERPRISE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';

/** One of several values (RFC 7643, 2.4). */
interface ScimValue {
  readonly value?: string;
  readonly type?: string;
  readonly primary?: boolean;
}

/** What is read of a user (RFC 7643, 4.1). */
export interface ScimUser {
  readonly id: string;
  readonly userName: string;
  readonly active?: boolean;
  readonly displayName?: string;
  readonly name?: { readonly formatted?: string; readonly givenName?: string; readonly familyName?: string };
  readonly title?: string;
  readonly preferredLanguage?: string;
  readonly locale?: string;
  readonly timezone?: string;
  readonly emails?: readonly ScimValue[];
  readonly addresses?: readonly (ScimValue & { readonly locality?: string })[];
  readonly [SCIM_ENTERPRISE]?: {
    readonly department?: string;
    readonly manager?: { readonly value?: string };
  };
}

/** A group (RFC 7643, 4.2). Members are ids of users, or of groups whose members are then its own. */
export interface ScimGroup {
  readonly id: string;
  readonly displayName: string;
  readonly members: readonly string[];
}

/** People of a SCIM client: those who are not active have left. Lines are counted from 1. */
export function peopleOfScim(users: readonly ScimUser[], groups: readonly ScimGroup[]): ListedPerson[] {
  const active = users.filter((user) => user.active !== false);
  const addresses = new Map(active.map((user) => [user.id, addressOf(user)]));
  const named = groupsByUser(groups);
  return active.map((user, index): ListedPerson => {
    const employee = user[SCIM_ENTERPRISE];
    const manager = employee?.manager?.value;
    const fields: { -readonly [Field in keyof ListedPerson['fields']]: PersonRecord[Field] } = {
      name: nameOf(user),
      department: employee?.department ?? '',
      office: chosen(user.addresses)?.locality ?? '',
      title: user.title ?? '',
      groups: named.get(user.id) ?? [],
      // Somebody who is not told of is kept by their id, and then remarked upon as unknown.
      manager: manager ? (addresses.get(manager) ?? manager) : null,
    };
    const language = user.preferredLanguage ?? user.locale;
    if (language) fields.language = language;
    // RFC 7643, 4.1.1: in the form of the IANA database.
    if (user.timezone) fields.zone = user.timezone;
    return { line: index + 1, address: addresses.get(user.id) ?? '', key: user.id, fields };
  });
}

/** The primary value, or the one of work, or the first. */
function chosen<Value extends ScimValue>(values: readonly Value[] = []): Value | undefined {
  return (
    values.find(({ primary }) => primary === true) ??
    values.find(({ type }) => type?.toLowerCase() === 'work') ??
    values[0]
  );
}

/** A user without mail addresses is often named by one. */
function addressOf(user: ScimUser): string {
  const mail = chosen(user.emails)?.value?.trim() ?? '';
  return mail || (user.userName.includes('@') ? user.userName.trim() : '');
}

function nameOf({ displayName, name, userName }: ScimUser): string {
  const parts = [name?.givenName, name?.familyName].filter((part) => part?.trim());
  return [displayName, name?.formatted, parts.join(' '), userName].find((each) => each?.trim()) ?? '';
}

function groupsByUser(groups: readonly ScimGroup[]): ReadonlyMap<string, readonly string[]> {
  const byId = new Map(groups.map((group) => [group.id, group]));
  const found = new Map<string, string[]>();
  for (const group of groups) {
    const seen = new Set<string>([group.id]);
    const open = [...group.members];
    for (let member = open.pop(); member !== undefined; member = open.pop()) {
      if (seen.has(member)) continue;
      seen.add(member);
      const inner = byId.get(member);
      if (inner) for (const each of inner.members) open.push(each);
      else found.set(member, [...(found.get(member) ?? []), group.displayName]);
    }
  }
  return found;
}
