import type { DirectoryEntry } from '../change/entries.js';
import type { ListedMachine, MachineRecord } from './machine-record.js';
import { plainAddress } from './ranges.js';

type Meaning = 'name' | 'serial' | 'addresses' | 'owner' | 'listed' | 'state';

/** Headings of inventories, without blanks, signs and capitals. */
const HEADINGS: Readonly<Record<Meaning, readonly string[]>> = {
  name: ['name', 'machine', 'computer', 'computername', 'hostname', 'host', 'device', 'devicename', 'asset'],
  serial: ['serial', 'serialnumber', 'serialno', 'servicetag', 'assettag'],
  addresses: ['ip', 'ipaddress', 'ipaddresses', 'address', 'addresses', 'networkaddress', 'ipv4', 'ipv6'],
  owner: ['owner', 'user', 'mail', 'email', 'primaryuser', 'assignedto', 'person'],
  listed: ['groups', 'group', 'tags'],
  state: ['managed', 'lookedafter', 'state', 'enrolled'],
};
const MEANINGS = Object.keys(HEADINGS) as Meaning[];

/** What each column of an inventory holds, by its heading; null where nothing fits. */
export function machineMeaningsOf(headings: readonly string[]): (Meaning | null)[] {
  const given = new Set<Meaning>();
  return headings.map((heading) => {
    const plain = heading.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
    const meaning = MEANINGS.find((each) => HEADINGS[each].includes(plain) && !given.has(each)) ?? null;
    if (meaning) given.add(meaning);
    return meaning;
  });
}

const YES = /^(?:y|yes|true|1|managed|enrolled|looked-after)$/iu;
const NO = /^(?:n|no|false|0|unmanaged|strange|own)$/iu;

/** A machine of one row of an inventory. */
export function machineOfRow(
  line: number,
  cells: readonly string[],
  meanings: readonly (Meaning | null)[],
): ListedMachine {
  const cell = (meaning: Meaning): string | undefined => {
    const at = meanings.indexOf(meaning);
    return at === -1 ? undefined : (cells[at]?.trim() ?? '');
  };
  const state = cell('state');
  return told(line, cell('name') ?? '', {
    serial: cell('serial'),
    addresses: listOf(cell('addresses')),
    owner: cell('owner'),
    listed: listOf(cell('listed')),
    state:
      state === undefined
        ? undefined
        : YES.test(state)
          ? 'looked-after'
          : NO.test(state)
            ? 'strange'
            : undefined,
  });
}

const listOf = (text: string | undefined): readonly string[] | undefined =>
  text?.split(/[;,|\s]*[;,|]\s*|\s{2,}/u).filter(Boolean);

/** Computers among the entries of a directory: RFC 4519 (device, serialNumber), RFC 2307 (ipHost). */
export function machinesOfEntries(entries: readonly DirectoryEntry[]): ListedMachine[] {
  const mails = new Map(
    entries.map(({ dn, attributes }) => [dn.toLowerCase(), attributes.get('mail')?.[0] ?? '']),
  );
  return entries.filter(isMachine).map(({ attributes, line, dn }) => {
    const first = (...names: readonly string[]): string =>
      names.map((name) => attributes.get(name)?.[0]).find((value) => value?.trim()) ?? '';
    const owner = first('owner', 'managedby');
    return told(line, first('cn', 'name', 'dnshostname') || dn, {
      serial: first('serialnumber'),
      addresses: attributes.get('iphostnumber') ?? [],
      owner: owner === '' ? undefined : (mails.get(owner.toLowerCase()) ?? ''),
      listed: attributes.get('ou') ?? [],
    });
  });
}

const CLASSES = new Set(['computer', 'device', 'iphost']);
const isMachine = ({ attributes }: DirectoryEntry): boolean =>
  (attributes.get('objectclass') ?? []).some((name) => CLASSES.has(name.toLowerCase()));

function told(
  line: number,
  name: string,
  fields: { readonly [Field in keyof ListedMachine['fields']]?: MachineRecord[Field] | undefined },
): ListedMachine {
  const addresses = fields.addresses?.map((text) => ({ text, plain: plainAddress(text) }));
  const bad = addresses?.find(({ plain }) => plain === null);
  const given = Object.fromEntries(
    Object.entries({ ...fields, addresses: addresses?.flatMap(({ plain }) => plain ?? []) }).filter(
      ([, value]) => value !== undefined,
    ),
  ) as ListedMachine['fields'];
  return { line, name, fields: given, ...(bad ? { badAddress: bad.text } : {}) };
}
