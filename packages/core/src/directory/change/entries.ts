import type { PersonRecord, ListedPerson } from './person-record.js';

/** One entry of an LDAP directory: its name and attributes, each with its values. Names of attributes in small letters. */
export interface DirectoryEntry {
  readonly dn: string;
  /** Line or number at which it stands, from 1. */
  readonly line: number;
  readonly attributes: ReadonlyMap<string, readonly string[]>;
}

/** Attributes by what is read from them, the first that is there counting: RFC 4519, RFC 2798, RFC 4530. */
const ATTRIBUTES = {
  address: ['mail', 'rfc822mailbox', 'userprincipalname'],
  name: ['displayname', 'cn', 'commonname'],
  department: ['department', 'departmentnumber', 'ou'],
  office: ['physicaldeliveryofficename', 'l', 'localityname'],
  title: ['title'],
  language: ['preferredlanguage'],
  // No standard names one: common practice, no source.
  zone: ['timezone'],
  key: ['entryuuid', 'objectguid', 'uid', 'employeenumber'],
} as const;

/** Classes of entries that list people. */
const GROUP_CLASSES = ['groupofnames', 'groupofuniquenames', 'posixgroup', 'group'];
const PERSON_CLASSES = ['person', 'organizationalperson', 'inetorgperson', 'user'];

/** People among the entries of a directory. Managers and members, who are told by name of entry, become addresses. */
export function peopleOfEntries(entries: readonly DirectoryEntry[]): ListedPerson[] {
  const people = entries.filter(isPerson);
  const addressByName = new Map(people.map((entry) => [plainName(entry.dn), first(entry, 'address')]));
  const groups = groupsByMember(entries.filter((entry) => hasClass(entry, GROUP_CLASSES)));
  return people.map((entry): ListedPerson => {
    const { attributes, dn, line } = entry;
    const uid = attributes.get('uid')?.[0];
    const manager = attributes.get('manager')?.[0];
    const listed = [
      ...(attributes.get('memberof') ?? []).map(lastName),
      ...(groups.get(plainName(dn)) ?? []),
      ...(uid === undefined ? [] : (groups.get(`uid ${uid.toLowerCase()}`) ?? [])),
    ];
    const fields: { -readonly [Field in keyof ListedPerson['fields']]: PersonRecord[Field] } = {
      groups: listed,
    };
    for (const field of ['name', 'department', 'office', 'title', 'language', 'zone'] as const) {
      const value = first(entry, field);
      if (value !== '') fields[field] = value;
    }
    // A manager who is no entry of it is kept by name of entry, and then remarked upon as unknown.
    fields.manager = manager === undefined ? null : (addressByName.get(plainName(manager)) ?? manager);
    return { line, address: first(entry, 'address'), key: first(entry, 'key') || null, fields };
  });
}

function isPerson(entry: DirectoryEntry): boolean {
  if (hasClass(entry, GROUP_CLASSES)) return false;
  // Machines have accounts of people in some directories.
  if (hasClass(entry, ['computer'])) return false;
  return hasClass(entry, PERSON_CLASSES) || first(entry, 'address') !== '';
}

function hasClass({ attributes }: DirectoryEntry, classes: readonly string[]): boolean {
  return (attributes.get('objectclass') ?? []).some((name) => classes.includes(name.toLowerCase()));
}

function first({ attributes }: DirectoryEntry, what: keyof typeof ATTRIBUTES): string {
  for (const name of ATTRIBUTES[what]) {
    const value = attributes.get(name)?.find((each) => each.trim() !== '');
    if (value !== undefined) return value.trim();
  }
  return '';
}

function groupsByMember(groups: readonly DirectoryEntry[]): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, string[]>();
  const add = (member: string, name: string): void => {
    const list = found.get(member);
    if (list) list.push(name);
    else found.set(member, [name]);
  };
  for (const entry of groups) {
    const name = first(entry, 'name') || lastName(entry.dn);
    const { attributes } = entry;
    for (const member of [...(attributes.get('member') ?? []), ...(attributes.get('uniquemember') ?? [])])
      add(plainName(member), name);
    for (const uid of attributes.get('memberuid') ?? []) add(`uid ${uid.toLowerCase()}`, name);
  }
  return found;
}

/** A name of an entry in a form that can be compared: small letters, no blanks beside its signs (RFC 4514, 2). */
function plainName(dn: string): string {
  return partsOf(dn)
    .map((part) =>
      part
        .replace(/\s*=\s*/, '=')
        .trim()
        .toLowerCase(),
    )
    .join(',');
}

/** The value of a name's first part: `Crew` of `cn=Crew,ou=groups,dc=example`. */
function lastName(dn: string): string {
  const [head = ''] = partsOf(dn);
  return unescaped(head.slice(head.indexOf('=') + 1).trim());
}

/** Parts of a name, divided at commas that no backslash stands before. */
function partsOf(dn: string): string[] {
  const parts: string[] = [];
  let part = '';
  for (let at = 0; at < dn.length; at += 1) {
    const sign = dn[at] ?? '';
    if (sign === '\\') part += sign + (dn[(at += 1)] ?? '');
    else if (sign === ',') {
      parts.push(part);
      part = '';
    } else part += sign;
  }
  parts.push(part);
  return parts;
}

function unescaped(value: string): string {
  return value.replace(/(?:\\[0-9a-f]{2})+|\\(.)/gi, (escaped, one?: string) => {
    if (one !== undefined) return one;
    const bytes = Uint8Array.from(escaped.match(/[0-9a-f]{2}/gi) ?? [], (hex) => parseInt(hex, 16));
    return utf8(bytes);
  });
}

function utf8(bytes: Uint8Array): string {
  let percent = '';
  for (const byte of bytes) percent += `%${byte.toString(16).padStart(2, '0')}`;
  try {
    return decodeURIComponent(percent);
  } catch {
    return String.fromCharCode(...bytes);
  }
}
