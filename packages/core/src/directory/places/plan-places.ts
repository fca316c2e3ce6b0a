import type { DirectoryEntry } from '../change/entries.js';

/** What the directory keeps of a place that holds files. */
export interface PlaceRecord {
  /** Rules name it as `/name`. */
  readonly name: string;
  readonly about: string;
  /** Address of who answers for it; empty for nobody. */
  readonly owner: string;
  /** Addresses of the organisation that its owner let in. */
  readonly members: readonly string[];
}

/** One place as a list tells of it. */
export interface ListedPlace {
  readonly line: number;
  readonly name: string;
  /** Fields that the list says something about. */
  readonly fields: Partial<Omit<PlaceRecord, 'name'>>;
}

export type PlaceRefusal = 'no-name' | 'twice' | 'too-long' | 'bad-name' | 'bad-address';

/** Places are never removed by a list: files lie in them. */
export interface PlacePlan {
  readonly added: readonly PlaceRecord[];
  readonly changed: readonly { readonly before: PlaceRecord; readonly after: PlaceRecord }[];
  readonly unchanged: number;
  readonly refused: readonly { readonly line: number; readonly code: PlaceRefusal; readonly value: string }[];
}

/** Columns of the database. */
const MAX_NAME = 120;
const MAX_ABOUT = 500;
const MAX_MEMBERS = 1_000;
const ADDRESS = /^[^\s@"(),:;<>[\\\]]{1,64}@[^\s@"(),:;<>[\\\]]{1,253}$/u;
/** Signs that divide paths, or that no folder has. */
// eslint-disable-next-line no-control-regex
const NOT_IN_NAMES = /[/\\\x00-\x1f]|^\.+$/u;

const HEADINGS: Readonly<Record<'name' | 'about' | 'owner' | 'members', readonly string[]>> = {
  name: ['name', 'place', 'site', 'share', 'library', 'folder'],
  about: ['about', 'description', 'purpose', 'comment'],
  owner: ['owner', 'mail', 'email', 'responsible', 'owneraddress'],
  members: ['members', 'member', 'people', 'access'],
};
type Meaning = keyof typeof HEADINGS;

/** What each column of a list of places holds, by its heading; null where nothing fits. */
export function placeMeaningsOf(headings: readonly string[]): (Meaning | null)[] {
  const given = new Set<Meaning>();
  return headings.map((heading) => {
    const plain = heading.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
    const all = Object.keys(HEADINGS) as Meaning[];
    const meaning = all.find((each) => HEADINGS[each].includes(plain) && !given.has(each)) ?? null;
    if (meaning) given.add(meaning);
    return meaning;
  });
}

export function placeOfRow(
  line: number,
  cells: readonly string[],
  meanings: readonly (Meaning | null)[],
): ListedPlace {
  const cell = (meaning: Meaning): string | undefined => {
    const at = meanings.indexOf(meaning);
    return at === -1 ? undefined : (cells[at]?.trim() ?? '');
  };
  const [about, owner, members] = [cell('about'), cell('owner'), cell('members')];
  return {
    ...{ line, name: cell('name') ?? '' },
    fields: {
      ...(about === undefined ? {} : { about }),
      ...(owner === undefined ? {} : { owner: owner.toLowerCase() }),
      ...(members === undefined
        ? {}
        : {
            members: [
              ...new Set(
                members
                  .toLowerCase()
                  .split(/[;,|\s]+/u)
                  .filter(Boolean),
              ),
            ].sort(),
          }),
    },
  };
}

const CLASSES = new Set(['room', 'documentseries', 'locality']);

/** Places among the entries of a directory: RFC 4524 (room, documentSeries), RFC 4519 (locality). */
export function placesOfEntries(entries: readonly DirectoryEntry[]): ListedPlace[] {
  const mails = new Map(
    entries.map(({ dn, attributes }) => [
      dn.toLowerCase(),
      (attributes.get('mail')?.[0] ?? '').toLowerCase(),
    ]),
  );
  const mailOf = (dn: string): string => mails.get(dn.toLowerCase()) ?? '';
  return entries
    .filter(({ attributes }) =>
      (attributes.get('objectclass') ?? []).some((name) => CLASSES.has(name.toLowerCase())),
    )
    .map(({ attributes, line }): ListedPlace => {
      const first = (...names: readonly string[]): string | undefined =>
        names.map((name) => attributes.get(name)?.[0]).find((value) => value?.trim());
      const [about, owner, members] = [
        first('description'),
        first('owner', 'manager'),
        attributes.get('member'),
      ];
      return {
        ...{ line, name: first('cn', 'l') ?? '' },
        fields: {
          ...(about === undefined ? {} : { about }),
          ...(owner === undefined ? {} : { owner: mailOf(owner) }),
          ...(members === undefined ? {} : { members: members.map(mailOf).filter(Boolean).sort() }),
        },
      };
    });
}

/** Compares a list with the places that there are. Nothing is changed. */
export function planPlaces(told: readonly ListedPlace[], own: readonly PlaceRecord[]): PlacePlan {
  const before = new Map(own.map((place) => [place.name.toLowerCase(), place]));
  const seen = new Set<string>();
  const refused: { line: number; code: PlaceRefusal; value: string }[] = [];
  const added: PlaceRecord[] = [];
  const changed: { before: PlaceRecord; after: PlaceRecord }[] = [];
  let unchanged = 0;
  for (const { line, name: given, fields } of told) {
    const name = given.trim();
    const fault = faultOf(name, fields, seen);
    if (fault) {
      refused.push({ line, ...fault, value: fault.value.slice(0, MAX_NAME) });
      continue;
    }
    seen.add(name.toLowerCase());
    const known = before.get(name.toLowerCase());
    const after: PlaceRecord = {
      // A place keeps the name that rules may know it by.
      name: known?.name ?? name,
      about: fields.about ?? known?.about ?? '',
      owner: fields.owner ?? known?.owner ?? '',
      members: fields.members ?? known?.members ?? [],
    };
    if (!known) added.push(after);
    else if (JSON.stringify({ ...known, members: [...known.members].sort() }) === JSON.stringify(after))
      unchanged += 1;
    else changed.push({ before: known, after });
  }
  return { added, changed, unchanged, refused };
}

function faultOf(
  name: string,
  { about = '', owner = '', members = [] }: ListedPlace['fields'],
  seen: ReadonlySet<string>,
): { readonly code: PlaceRefusal; readonly value: string } | null {
  if (name === '') return { code: 'no-name', value: '' };
  if (seen.has(name.toLowerCase())) return { code: 'twice', value: name };
  if (NOT_IN_NAMES.test(name)) return { code: 'bad-name', value: name };
  if (name.length > MAX_NAME || about.length > MAX_ABOUT || members.length > MAX_MEMBERS)
    return { code: 'too-long', value: name };
  const bad = [...(owner === '' ? [] : [owner]), ...members].find((address) => !ADDRESS.test(address));
  return bad === undefined ? null : { code: 'bad-address', value: bad };
}
