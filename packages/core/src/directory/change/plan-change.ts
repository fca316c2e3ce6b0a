import { isZone } from '../../shared/zone.js';
import {
  MAX_ADDRESS,
  MAX_FIELD,
  MAX_GROUPS,
  MAX_KEY,
  PERSON_FIELDS,
  type PersonField,
  type PersonRecord,
  type ListedPerson,
} from './person-record.js';

export type RefusalCode =
  'no-address' | 'bad-address' | 'twice' | 'key-twice' | 'belongs-elsewhere' | 'too-long' | 'too-many-groups';

/** A line that is not taken, and what of it is wrong. `other` is the line it collides with. */
export interface RefusedLine {
  readonly line: number;
  readonly code: RefusalCode;
  readonly value: string;
  readonly other?: number;
}

export type RemarkCode = 'unknown-manager' | 'manager-circle' | 'outside-domain';

/** Something odd that does not keep the line out. */
export interface Remark {
  readonly line: number;
  readonly code: RemarkCode;
  readonly address: string;
  readonly value: string;
}

export interface ChangedPerson {
  readonly before: PersonRecord;
  readonly after: PersonRecord;
  /** What differs; `source` for somebody entered by hand whom this source takes over. */
  readonly fields: readonly (PersonField | 'address' | 'key' | 'source')[];
}

export interface DirectoryPlan {
  readonly added: readonly PersonRecord[];
  readonly changed: readonly ChangedPerson[];
  /** People of this source who are no longer listed. A refused line still lists its person. */
  readonly left: readonly PersonRecord[];
  readonly unchanged: number;
  readonly refused: readonly RefusedLine[];
  readonly remarks: readonly Remark[];
  /** Share (0 to 1) of this source's people who would leave. */
  readonly leavingShare: number;
}

export interface PlanOptions {
  /** People of the directory who came from this source. */
  readonly own: readonly PersonRecord[];
  /** People entered by hand: a source that tells of them takes them over, and never lets them leave before. */
  readonly byHand: readonly PersonRecord[];
  /** Addresses of people of other sources, small letters: nobody takes them over. */
  readonly elsewhere: ReadonlySet<string>;
  /** Whether who is not told of has left. */
  readonly whole: boolean;
  readonly isInside: (address: string) => boolean;
}

/** A mailbox as people write it: RFC 5321, 4.1.2, without quoted parts, in any script. */
const ADDRESS = /^[^\s@"(),:;<>[\\\]]{1,64}@[^\s@"(),:;<>[\\\]]{1,253}$/u;

/** Compares what a source tells with what the directory holds. Nothing is changed; each line counts once, or is refused. */
export function planChange(told: readonly ListedPerson[], options: PlanOptions): DirectoryPlan {
  const { own, whole } = options;
  const byHand = new Map(options.byHand.map((person) => [person.address, person]));
  const { lines, refused, mentioned } = accepted(told, options);
  const earlier = matched(lines, own);

  let kept = 0;
  const added: PersonRecord[] = [];
  const changed: ChangedPerson[] = [];
  const seen = new Set<PersonRecord>();
  const after = new Map<string, { readonly line: number; readonly person: PersonRecord }>();
  for (const line of lines) {
    const address = line.address;
    const before = earlier.get(line);
    if (before && before.address !== address && byHand.has(address)) {
      refused.push({ line: line.line, code: 'belongs-elsewhere', value: address });
      seen.add(before);
      kept += 1;
      continue;
    }
    const takenOver = before ? undefined : byHand.get(address);
    const person = personAfter(line, before ?? takenOver);
    after.set(address, { line: line.line, person });
    if (takenOver)
      changed.push({
        ...{ before: takenOver, after: person },
        fields: [...differing(takenOver, person), 'source'],
      });
    if (!before) {
      if (!takenOver) added.push(person);
      continue;
    }
    seen.add(before);
    const fields = differing(before, person);
    if (fields.length > 0) changed.push({ before, after: person, fields });
  }
  const missing = own.filter((person) => !seen.has(person));
  // Whoever had an address that somebody else has now has left in any case: an address is one person's.
  const isGone = (person: PersonRecord): boolean =>
    after.has(person.address) || (whole && !mentioned.has(person.address) && !mentioned.has(person.key));
  const left = missing.filter(isGone);
  const stay = missing.filter((person) => !isGone(person));
  const others = [...stay, ...options.byHand.filter((person) => !after.has(person.address))];
  return {
    ...{ added, changed, left, refused },
    unchanged: seen.size - kept - changed.filter(({ fields }) => !fields.includes('source')).length,
    remarks: remarksOf(after, others, options),
    leavingShare: own.length === 0 ? 0 : left.length / own.length,
  };
}

/** Who of the directory each line is about: by permanent id first, and then by address. Nobody is meant by two lines. */
function matched(
  lines: readonly ListedPerson[],
  own: readonly PersonRecord[],
): ReadonlyMap<ListedPerson, PersonRecord> {
  const byKey = new Map(
    own.flatMap((person) => (person.key === null ? [] : [[person.key, person] as const])),
  );
  const byAddress = new Map(own.map((person) => [person.address, person]));
  const found = new Map<ListedPerson, PersonRecord>();
  for (const line of lines) {
    const person = line.key ? byKey.get(line.key) : undefined;
    if (person) found.set(line, person);
  }
  const taken = new Set(found.values());
  for (const line of lines) {
    const person = found.has(line) ? undefined : byAddress.get(line.address);
    // Somebody with another id is somebody else, who has the address now.
    if (person && !taken.has(person) && (!line.key || person.key === null)) found.set(line, person);
  }
  return found;
}

/**
 * Lines that can be imported, in small letters, and those that cannot. Of two for one address the first counts.
 * `mentioned` holds addresses and keys of refused lines: their people have not left.
 */
function accepted(told: readonly ListedPerson[], { elsewhere }: PlanOptions) {
  const refused: RefusedLine[] = [];
  const mentioned = new Set<string | null>();
  const lines: ListedPerson[] = [];
  const addresses = new Map<string, number>();
  const keys = new Map<string, number>();
  for (const raw of told) {
    const line = { ...raw, address: raw.address.trim().toLowerCase(), key: raw.key?.trim() || null };
    const fault = faultOf(line, { addresses, keys, elsewhere });
    if (fault) {
      refused.push(fault);
      mentioned.add(line.address);
      if (line.key) mentioned.add(line.key);
      continue;
    }
    addresses.set(line.address, line.line);
    if (line.key) keys.set(line.key, line.line);
    lines.push(line);
  }
  return { lines, refused, mentioned };
}

function faultOf(
  { line, address, key, fields }: ListedPerson,
  {
    addresses,
    keys,
    elsewhere,
  }: {
    readonly addresses: ReadonlyMap<string, number>;
    readonly keys: ReadonlyMap<string, number>;
    readonly elsewhere: ReadonlySet<string>;
  },
): RefusedLine | null {
  const no = (code: RefusalCode, value: string, other?: number): RefusedLine => ({
    ...{ line, code, value: value.slice(0, MAX_FIELD) },
    ...(other === undefined ? {} : { other }),
  });
  if (address === '') return no('no-address', fields.name ?? '');
  if (address.length > MAX_ADDRESS || !ADDRESS.test(address)) return no('bad-address', address);
  const first = addresses.get(address);
  if (first !== undefined) return no('twice', address, first);
  const sameKey = key ? keys.get(key) : undefined;
  if (sameKey !== undefined) return no('key-twice', address, sameKey);
  if (elsewhere.has(address)) return no('belongs-elsewhere', address);
  const texts = [fields.name, fields.department, fields.office, fields.title, ...(fields.groups ?? [])];
  const long = texts.find((text) => (text?.trim().length ?? 0) > MAX_FIELD);
  if (long !== undefined) return no('too-long', long);
  if ((key?.length ?? 0) > MAX_KEY) return no('too-long', key ?? '');
  if ((fields.groups?.length ?? 0) > MAX_GROUPS) return no('too-many-groups', address);
  return null;
}

function personAfter({ address, key = null, fields }: ListedPerson, before?: PersonRecord): PersonRecord {
  const text = (field: 'department' | 'office' | 'title'): string =>
    (fields[field] ?? before?.[field] ?? '').trim();
  const manager = fields.manager === undefined ? (before?.manager ?? null) : fields.manager;
  return {
    ...{ address, key: key ?? before?.key ?? null },
    name: (fields.name ?? before?.name ?? '').trim() || address,
    department: text('department'),
    office: text('office'),
    title: text('title'),
    groups: distinct(fields.groups ?? before?.groups ?? []),
    manager: manager?.trim().toLowerCase() || null,
    language: languageOf(fields.language) ?? before?.language ?? 'en',
    zone: zoneOf(fields.zone) ?? before?.zone ?? '',
  };
}

/** The primary part of a language tag (RFC 5646), which is what texts are written by. */
function languageOf(tag: string | undefined): string | null {
  const [, primary] = /^\s*([a-z]{2,3})(?:[-_;,].*)?\s*$/i.exec(tag ?? '') ?? [];
  return primary?.toLowerCase() ?? null;
}

/** A zone as the running engine names it; null where nothing is said, or something that is none. */
function zoneOf(zone: string | undefined): string | null {
  const wanted = zone?.trim();
  if (wanted === '') return '';
  return wanted !== undefined && isZone(wanted) ? wanted : null;
}

/** Groups without blanks, each once whatever its capitals, in order. */
function distinct(groups: readonly string[]): readonly string[] {
  const byName = new Map<string, string>();
  for (const group of groups) {
    const name = group.trim();
    if (name !== '' && !byName.has(name.toLowerCase())) byName.set(name.toLowerCase(), name);
  }
  return [...byName.values()].sort();
}

function differing(before: PersonRecord, after: PersonRecord): ChangedPerson['fields'][number][] {
  const fields: ChangedPerson['fields'][number][] = PERSON_FIELDS.filter((field) =>
    field === 'groups'
      ? before.groups.length !== after.groups.length ||
        [...before.groups].sort().some((group, index) => group !== after.groups[index])
      : before[field] !== after[field],
  );
  if (before.address !== after.address) fields.unshift('address');
  if (before.key !== after.key) fields.push('key');
  return fields;
}

function remarksOf(
  after: ReadonlyMap<string, { readonly line: number; readonly person: PersonRecord }>,
  stay: readonly PersonRecord[],
  { elsewhere, isInside }: PlanOptions,
): Remark[] {
  const remarks: Remark[] = [];
  const staying = new Map(stay.map((person) => [person.address, person]));
  const managerOf = (address: string): string | null =>
    after.get(address)?.person.manager ?? staying.get(address)?.manager ?? null;
  for (const { line, person } of after.values()) {
    const { address, manager } = person;
    if (!isInside(address)) remarks.push({ line, code: 'outside-domain', address, value: address });
    if (manager === null) continue;
    if (!after.has(manager) && !staying.has(manager) && !elsewhere.has(manager))
      remarks.push({ line, code: 'unknown-manager', address, value: manager });
    else if (isInCircle(address, managerOf))
      remarks.push({ line, code: 'manager-circle', address, value: manager });
  }
  return remarks;
}

/** Whether somebody is their own manager's manager, however far up. */
function isInCircle(address: string, managerOf: (address: string) => string | null): boolean {
  const seen = new Set<string>();
  for (let at = managerOf(address); at !== null && !seen.has(at); at = managerOf(at)) {
    if (at === address) return true;
    seen.add(at);
  }
  return false;
}
