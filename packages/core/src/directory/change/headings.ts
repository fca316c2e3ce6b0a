import type { PersonField } from './person-record.js';

/** What a column of a table of people can hold; names of two columns are joined. */
export const COLUMN_MEANINGS = [
  'address',
  'name',
  'given-name',
  'family-name',
  'department',
  'office',
  'title',
  'groups',
  'manager',
  'language',
  'zone',
  'key',
] as const;
export type ColumnMeaning = (typeof COLUMN_MEANINGS)[number];

/** Headings that people write, without blanks, signs and capitals. */
const HEADINGS: Readonly<Record<ColumnMeaning, readonly string[]>> = {
  address: [
    'mail',
    'email',
    'emailaddress',
    'mailaddress',
    'address',
    'userprincipalname',
    'login',
    'primaryemail',
  ],
  name: ['name', 'fullname', 'displayname', 'person', 'cn'],
  'given-name': ['givenname', 'firstname', 'forename'],
  'family-name': ['familyname', 'lastname', 'surname', 'sn'],
  department: ['department', 'dept', 'team', 'unit', 'ou', 'departmentname'],
  office: ['office', 'port', 'site', 'city', 'location', 'l', 'branch'],
  title: ['title', 'jobtitle', 'role', 'position', 'function'],
  groups: ['groups', 'group', 'memberof', 'memberships'],
  manager: ['manager', 'manageremail', 'manageraddress', 'reportsto', 'supervisor', 'managermail'],
  language: ['language', 'preferredlanguage', 'lang', 'locale'],
  zone: ['timezone', 'zone', 'tz', 'timezoneid', 'olson'],
  key: ['id', 'key', 'employeeid', 'employeenumber', 'personnelnumber', 'uid', 'entryuuid', 'externalid'],
};

/** What each column probably holds, by its heading; null where nothing fits. No meaning is given twice. */
export function meaningsOf(headings: readonly string[]): (ColumnMeaning | null)[] {
  const given = new Set<ColumnMeaning>();
  return headings.map((heading) => {
    const plain = heading.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
    const meaning = COLUMN_MEANINGS.find((each) => HEADINGS[each].includes(plain) && !given.has(each));
    if (meaning) given.add(meaning);
    return meaning ?? null;
  });
}

/** Fields of a person that a set of columns says something about. */
export function fieldsOfMeanings(meanings: readonly (ColumnMeaning | null)[]): PersonField[] {
  const fields = meanings.flatMap((meaning): PersonField[] => {
    if (meaning === null || meaning === 'address' || meaning === 'key') return [];
    return [meaning === 'given-name' || meaning === 'family-name' ? 'name' : meaning];
  });
  return [...new Set(fields)];
}
