import { type DirectoryEntry, peopleOfEntries } from './entries.js';
import { readLdif } from './ldif.js';

const decode = (text: string): string | null =>
  /^[A-Za-z0-9+/]+={0,2}$/.test(text) ? Buffer.from(text, 'base64').toString('utf8') : null;
const read = (text: string) => readLdif(text, decode);

describe('LDIF (RFC 2849)', () => {
  // RFC 2849, "Examples of LDAP Data Interchange Format", examples 1 to 4, 6; from memory.
  it('reads a file of two entries, whose first has a name of several values', () => {
    const { entries, faults } = read(
      [
        'version: 1',
        'dn: cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com',
        'objectclass: top',
        'objectclass: person',
        'objectclass: organizationalPerson',
        'cn: Barbara Jensen',
        'cn: Barbara J Jensen',
        'cn: Babs Jensen',
        'sn: Jensen',
        'uid: bjensen',
        'telephonenumber: +1 408 555 1212',
        'description: A big sailing fan.',
        '',
        'dn: cn=Bjorn Jensen, ou=Accounting, dc=airius, dc=com',
        'objectclass: top',
        'objectclass: person',
        'objectclass: organizationalPerson',
        'cn: Bjorn Jensen',
        'sn: Jensen',
        'telephonenumber: +1 408 555 1212',
        '',
      ].join('\n'),
    );
    expect(faults).toEqual([]);
    expect(entries.map(({ dn, line }) => [dn, line])).toEqual([
      ['cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com', 1],
      ['cn=Bjorn Jensen, ou=Accounting, dc=airius, dc=com', 14],
    ]);
    expect(entries[0]?.attributes.get('cn')).toEqual(['Barbara Jensen', 'Barbara J Jensen', 'Babs Jensen']);
  });

  it('joins a folded line without its first blank', () => {
    const { entries } = read(
      'dn:cn=Barbara Jensen, ou=Product Development, dc=airius, dc=com\ndescription:Babs is a big sailing fan, and travels extensively in sea\n rch of perfect sailing conditions.\ntitle:Product Manager, Rod and Reel Division\n',
    );
    expect(entries[0]?.attributes.get('description')).toEqual([
      'Babs is a big sailing fan, and travels extensively in search of perfect sailing conditions.',
    ]);
    expect(entries[0]?.attributes.get('title')).toEqual(['Product Manager, Rod and Reel Division']);
  });

  it('decodes Base64 in values and names, also folded, and knows options of attributes', () => {
    const { entries } = read(
      'version: 1\r\ndn:: b3U95Za25qWt6YOoLG89QWlyaXVz\r\n# dn:: ou=<JapaneseOU>,o=Airius\r\nobjectclass: top\r\nou:: 5Za25qWt\r\n 6YOo\r\nou;lang-ja:: 5Za25qWt6YOo\r\n',
    );
    expect(entries[0]?.dn).toBe('ou=営業部,o=Airius');
    expect(entries[0]?.attributes.get('ou')).toEqual(['営業部', '営業部']);
  });

  it('fetches nothing that a value points to, and takes no record that asks for a change', () => {
    const { entries, faults } = read(
      [
        'dn: cn=One, o=Airius',
        'jpegphoto:< file:///usr/local/directory/photos/fiona.jpg',
        '',
        'dn: cn=Two, o=Airius',
        'changetype: delete',
        '',
        'dn: cn=Three, o=Airius',
        'mail: three@airius.example',
      ].join('\n'),
    );
    expect(entries.map(({ dn }) => dn)).toEqual(['cn=One, o=Airius', 'cn=Three, o=Airius']);
    expect(entries[0]?.attributes.size).toBe(0);
    expect(faults).toEqual([
      { code: 'address-value', line: 2, losesEntry: false },
      { code: 'change-record', line: 5, losesEntry: true },
    ]);
  });

  it.each([
    ['', 'no-entry', 1, true],
    ['mail: a@b.example', 'no-name', 1, true],
    ['dn: cn=A\nnonsense', 'no-colon', 2, true],
    ['dn:: ###\nmail: a@b.example', 'bad-base64', 1, true],
    ['dn: cn=A\nmail:: ###', 'bad-base64', 2, false],
  ])('names what is wrong with %j', (text, code, line, losesEntry) => {
    expect(read(text).faults).toEqual([{ code, line, losesEntry }]);
  });

  it('loses nothing but the entry with the fault', () => {
    const good = (number: number) => `dn: cn=${number}\nmail: p${number}@a.example\n`;
    const text = [good(1), 'dn: cn=bad\nx', good(2)].join('\n\n');
    expect(read(text).entries).toHaveLength(2);
    expect(read(text).faults).toHaveLength(1);
  });
});

describe('people of a directory', () => {
  const entry = (dn: string, attributes: Readonly<Record<string, string[]>>, line = 1): DirectoryEntry => ({
    ...{ dn, line },
    attributes: new Map(Object.entries(attributes)),
  });

  it('are told from groups and machines, with their manager by address and their groups by either side', () => {
    const people = peopleOfEntries([
      entry('uid=ada,ou=People,dc=a', {
        objectclass: ['inetOrgPerson'],
        mail: ['ada@a.example'],
        cn: ['Ada'],
        manager: ['UID=Bea , OU=People,DC=a'],
        memberof: ['cn=Deck\\, crew,ou=Groups,dc=a'],
        uid: ['ada'],
      }),
      entry('uid=bea,ou=people,dc=a', { objectclass: ['person'], mail: ['bea@a.example'], cn: ['Bea'] }),
      entry('cn=Desk 4,dc=a', { objectclass: ['person', 'computer'], cn: ['Desk 4'] }),
      entry('cn=Watch,dc=a', {
        objectclass: ['groupOfNames'],
        cn: ['Watch'],
        member: ['uid=ada, ou=People, dc=a'],
      }),
      entry('cn=Shell,dc=a', { objectclass: ['posixGroup'], cn: ['Shell'], memberuid: ['ADA'] }),
    ]);
    expect(people).toHaveLength(2);
    expect(people[0]).toMatchObject({
      address: 'ada@a.example',
      fields: { name: 'Ada', manager: 'bea@a.example', groups: ['Deck, crew', 'Watch', 'Shell'] },
    });
    expect(people[1]?.fields).toMatchObject({ manager: null, groups: [] });
  });

  // RFC 4514, 4: "Lučić", written as hexadecimal pairs.
  it('reads names that are written with hexadecimal pairs', () => {
    const [person] = peopleOfEntries([
      entry('cn=X', { mail: ['x@a.example'], memberof: ['CN=Lu\\C4\\8Di\\C4\\87,DC=a'] }),
    ]);
    expect(person?.fields.groups).toEqual(['Lučić']);
  });
});
