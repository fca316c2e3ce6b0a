import { readLdif } from '../change/ldif.js';
import { placeMeaningsOf, placeOfRow, placesOfEntries, planPlaces, type PlaceRecord } from './plan-places.js';

const place = (over: Partial<PlaceRecord> = {}): PlaceRecord => ({
  ...{ name: 'Crew', about: '', owner: 'a@x.example', members: ['b@x.example', 'a@x.example'] },
  ...over,
});

it('reads a list by its headings', () => {
  const meanings = placeMeaningsOf(['Site', 'Description', 'Owner', 'Members', 'Size']);
  expect(meanings).toEqual(['name', 'about', 'owner', 'members', null]);
  expect(
    placeOfRow(3, ['Crew', 'Rosters', 'Ada@X.example', 'b@x.example; A@x.example', '9'], meanings),
  ).toEqual({
    ...{ line: 3, name: 'Crew' },
    fields: { about: 'Rosters', owner: 'ada@x.example', members: ['a@x.example', 'b@x.example'] },
  });
  // A column that is not there says nothing.
  expect(placeOfRow(1, ['Crew'], placeMeaningsOf(['Name'])).fields).toEqual({});
});

it('reads entries of a directory, with owners and members by their addresses', () => {
  const ldif = [
    'dn: cn=ada,dc=x\nobjectClass: person\ncn: Ada\nmail: Ada@x.example',
    'dn: cn=Crew,dc=x\nobjectClass: documentSeries\ncn: Crew\ndescription: Rosters\nowner: cn=Ada,dc=x\nmember: cn=ada,dc=x\nmember: cn=gone,dc=x',
  ].join('\n\n');
  expect(placesOfEntries(readLdif(ldif, () => null).entries)).toMatchObject([
    { name: 'Crew', fields: { about: 'Rosters', owner: 'ada@x.example', members: ['ada@x.example'] } },
  ]);
});

it('adds, changes what it says, and removes nothing', () => {
  const told = [
    { line: 1, name: 'CREW', fields: { owner: 'c@x.example' } },
    { line: 2, name: 'Pier', fields: {} },
  ];
  const plan = planPlaces(told, [place(), place({ name: 'Hall' })]);
  expect(plan.added).toEqual([{ name: 'Pier', about: '', owner: '', members: [] }]);
  expect(plan.changed).toEqual([{ before: place(), after: place({ owner: 'c@x.example' }) }]);
  const same = [{ line: 1, name: 'Crew', fields: { members: ['a@x.example', 'b@x.example'] } }];
  expect(planPlaces(same, [place()])).toMatchObject({ unchanged: 1, changed: [] });
});

it.each<[string, string, object, string]>([
  ['no name', ' ', {}, 'no-name'],
  ['a path', 'a/b', {}, 'bad-name'],
  ['a way out', '..', {}, 'bad-name'],
  ['a sign of control', 'a\u0007b', {}, 'bad-name'],
  ['a name without end', 'x'.repeat(121), {}, 'too-long'],
  ['an owner who is no address', 'Pier', { owner: 'the captain' }, 'bad-address'],
  ['a member who is no address', 'Pier', { members: ['a@x.example', '@'] }, 'bad-address'],
])('refuses %s', (_what, name, fields, code) => {
  const plan = planPlaces([{ line: 7, name, fields }], []);
  expect([plan.added, plan.refused.map((each) => [each.line, each.code])]).toEqual([[], [[7, code]]]);
});

it('takes the first of two', () => {
  const told = ['Pier', 'pier'].map((name, at) => ({ line: at + 1, name, fields: {} }));
  expect(planPlaces(told, [])).toMatchObject({
    added: [{ name: 'Pier' }],
    refused: [{ line: 2, code: 'twice' }],
  });
});
