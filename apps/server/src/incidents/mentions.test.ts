import { namedIn } from './mentions.service.js';

it.each<[string, string[]]>([
  ['please look @Ada@merrow.example.', ['ada@merrow.example']],
  ['@a@b.example, @c@d.example and @a@b.example again', ['a@b.example', 'c@d.example']],
  ['a mail to ada@merrow.example is no mention', []],
  ['@ nobody @here', []],
  [`${'@'.repeat(5_000)}a@b.example`, ['a@b.example']],
])('%.40s', (text, addresses) => expect(namedIn(text)).toEqual(addresses));

it('tells ten colleagues at most', () => {
  const text = Array.from({ length: 30 }, (_, at) => `@a${at}@b.example`).join(' ');
  expect(namedIn(text)).toHaveLength(10);
});
