import { readClaims, rolesFor } from './claims.js';

const ISSUER = 'https://id.merrow.example';
const CLAIMS = {
  sub: 'a1',
  email: 'Ada@Merrow.example',
  name: 'Ada',
  email_verified: true,
  groups: ['dlp', 'staff'],
};

it('reads who somebody is', () => {
  expect(readClaims(CLAIMS, ISSUER, 'groups')).toMatchObject({
    ...{ name: 'Ada', email: 'ada@merrow.example', isVerified: true, groups: ['dlp', 'staff'] },
  });
});

it('knows somebody by issuer and subject, not by what can change hands', () => {
  const key = (over: object, issuer = ISSUER) => {
    const read = readClaims({ ...CLAIMS, ...over }, issuer, 'groups');
    return typeof read === 'string' ? read : read.key;
  };
  expect(key({ email: 'other@merrow.example', name: 'Other' })).toBe(key({}));
  expect(key({ sub: 'a2' })).not.toBe(key({}));
  expect(key({}, 'https://id.other.example')).not.toBe(key({}));
});

it.each([
  ['no subject', { sub: undefined }, 'not-accepted'],
  ['a subject that is none', { sub: 7 }, 'not-accepted'],
  ['no address', { email: undefined }, 'no-address'],
  ['an address that is none', { email: 'ada at merrow' }, 'no-address'],
  ['an address that is not theirs', { email_verified: false }, 'no-address'],
  ['the same in words', { email_verified: 'false' }, 'no-address'],
])('says what is missing with %s', (_what, over, code) => {
  expect(readClaims({ ...CLAIMS, ...over }, ISSUER, 'groups')).toBe(code);
});

it.each<[unknown, readonly string[]]>([
  ['dlp', ['dlp']],
  [undefined, []],
  [null, []],
  [[1, 'dlp', {}, null], ['dlp']],
  [{ dlp: true }, []],
])('reads groups from %j', (claim, groups) => {
  expect(readClaims({ ...CLAIMS, groups: claim }, ISSUER, 'groups')).toMatchObject({ groups });
});

it.each([
  [true, true],
  ['true', true],
  ['yes', false],
  [undefined, false],
])('believes an address that is verified: %j', (verified, expected) => {
  expect(readClaims({ ...CLAIMS, email_verified: verified }, ISSUER, 'groups')).toMatchObject({
    isVerified: expected,
  });
});

it('gives the roles of all groups, each once', () => {
  const mapping = [
    { group: 'dlp', roles: ['first-line', 'auditor'] },
    { group: 'leads', roles: ['approver', 'first-line'] },
    { group: 'other', roles: ['administrator'] },
  ];
  expect(rolesFor(['leads', 'dlp'], mapping)).toEqual(['first-line', 'auditor', 'approver']);
  expect(rolesFor(['DLP', 'nobody'], mapping)).toEqual([]);
});
