import { peopleOfScim, SCIM_ENTERPRISE, type ScimUser } from './scim.js';

/** The user of RFC 7643, 8.3 ("Enterprise User Extension Representation"), what is read of it. */
const BABS: ScimUser = {
  id: '2819c223-7f76-453a-919d-413861904646',
  userName: 'bjensen@example.com',
  name: { formatted: 'Ms. Barbara J Jensen, III', familyName: 'Jensen', givenName: 'Barbara' },
  displayName: 'Babs Jensen',
  emails: [
    { value: 'bjensen@example.com', type: 'work', primary: true },
    { value: 'babs@jensen.org', type: 'home' },
  ],
  addresses: [
    { type: 'home', locality: 'Hollywood' },
    { type: 'work', locality: 'Hollywood Hills', primary: true },
  ],
  title: 'Tour Guide',
  preferredLanguage: 'en-US',
  timezone: 'America/Los_Angeles',
  active: true,
  [SCIM_ENTERPRISE]: {
    department: 'Tour Operations',
    manager: { value: '26118915-6090-4610-87e4-49d8ca9f808d' },
  },
};
const smith = (over: Partial<ScimUser> = {}): ScimUser => ({
  id: '26118915-6090-4610-87e4-49d8ca9f808d',
  userName: 'jsmith@example.com',
  ...over,
});

describe('people of a SCIM client', () => {
  it('reads the employee of the standard', () => {
    const [babs, boss] = peopleOfScim([BABS, smith()], []);
    expect(babs).toEqual({
      line: 1,
      address: 'bjensen@example.com',
      key: BABS.id,
      fields: {
        ...{
          name: 'Babs Jensen',
          department: 'Tour Operations',
          office: 'Hollywood Hills',
          title: 'Tour Guide',
        },
        ...{ groups: [], manager: 'jsmith@example.com', language: 'en-US', zone: 'America/Los_Angeles' },
      },
    });
    // Nothing but a user name: that is the address and the name.
    expect(boss).toMatchObject({ address: 'jsmith@example.com', fields: { name: 'jsmith@example.com' } });
  });

  it('leaves out who is not active, and keeps a manager who is unknown by id', () => {
    const people = peopleOfScim([BABS, smith({ active: false })], []);
    expect(people.map(({ fields }) => fields.manager)).toEqual(['26118915-6090-4610-87e4-49d8ca9f808d']);
  });

  it.each<[string, Partial<ScimUser>, string]>([
    ['the primary address', { emails: [{ value: 'a@x' }, { value: 'b@x', primary: true }] }, 'b@x'],
    [
      'the one of work',
      {
        emails: [
          { value: 'a@x', type: 'home' },
          { value: 'b@x', type: 'Work' },
        ],
      },
      'b@x',
    ],
    ['the first', { emails: [{ value: 'a@x' }, { value: 'b@x' }] }, 'a@x'],
    ['no address at all', { userName: 'jsmith' }, ''],
    ['an empty one', { emails: [{ value: '  ' }] }, 'jsmith@example.com'],
  ])('takes %s', (_what, over, address) => {
    expect(peopleOfScim([smith(over)], [])[0]?.address).toBe(address);
  });

  it('puts people into the groups of their groups, and does not follow a circle twice', () => {
    const group = (id: string, ...members: string[]) => ({ id, displayName: `Group ${id}`, members });
    const [babs] = peopleOfScim([BABS], [group('a', 'b'), group('b', 'c', BABS.id), group('c', 'a')]);
    expect([...(babs?.fields.groups ?? [])].sort()).toEqual(['Group a', 'Group b', 'Group c']);
  });
});
