import { syslogFrame } from './syslog.js';

const ENTRY = {
  ...{ number: 7, at: new Date('2026-12-01T08:30:00.123Z'), actor: 'ada@merrow.example' },
  ...{ action: 'PUT /accounts/:id', target: 'a1', facts: {}, hash: 'f'.repeat(64) },
};
const framed = (
  over: Partial<typeof ENTRY> & { facts?: Record<string, string> } = {},
  host = 'desk.merrow.example',
) => {
  const frame = syslogFrame({ ...ENTRY, ...over }, host).toString('utf8');
  const cut = frame.indexOf(' ');
  return { length: Number(frame.slice(0, cut)), message: frame.slice(cut + 1) };
};

// The grammar of RFC 5424, 6: header, structured data with escapes, and a message in UTF-8 with a byte order mark.
const GRAMMAR =
  /^<(\d{1,3})>1 (\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}\.\d{1,6}Z) ([\x21-\x7e]{1,255}) ([\x21-\x7e]{1,48}) ([\x21-\x7e]{1,128}) ([\x21-\x7e]{1,32}) (\[[^ =\]"]{1,32}(?: [^ =\]"]{1,32}="(?:[^"\\\]]|\\["\\\]])*")*\]) \uFEFF(.*)$/su;

it('writes what the grammar says, framed by its octets', () => {
  const { length, message } = framed();
  expect(length).toBe(Buffer.byteLength(message));
  const [, priority, at, host, name, , id] = GRAMMAR.exec(message) ?? [];
  expect([priority, at, host, name, id]).toEqual([
    ...['109', '2026-12-01T08:30:00.123Z', 'desk.merrow.example', 'lantern', 'PUT_/accounts/:id'],
  ]);
  expect(message).toContain('actor="ada@merrow.example"');
});

it.each([
  ['quotes, backslashes and brackets', { actor: 'a"b\\c]d', target: ']"' }],
  ['lines that somebody typed', { actor: 'a\n<109>1 forged\r\0' }],
  ['other scripts', { actor: 'åsa@merrow.example', action: 'Übersicht ansehen', target: '港口' }],
  ['facts with odd names', { facts: { 'a b="]': 'x', ['ü'.repeat(60)]: 'y]' } }],
  ['nothing', { actor: '', action: '', target: '' }],
  ['a failed sign-in', { action: 'sign-in-failed' }],
])('keeps to it with %s', (_what, over) => {
  const { length, message } = framed(over, 'host name\n');
  expect(message).toMatch(GRAMMAR);
  expect(message).not.toMatch(/[\n\r\0]/u);
  expect(length).toBe(Buffer.byteLength(message));
});

it('raises a failed sign-in above the rest', () => {
  expect(framed({ action: 'sign-in-failed' }).message).toMatch(/^<108>/u);
});
