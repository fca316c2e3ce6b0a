import { Readable } from 'node:stream';
import type { Logger } from '@nestjs/common';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';
import { listening, portOf, readAll, stopped } from './smtp-parts.js';

it('says that a port is taken, and leaves whoever has it alone', async () => {
  const said: string[] = [];
  const log = { error: (words: string) => said.push(words) } as unknown as Logger;
  const [first, second] = [
    new SMTPServer({ secure: false, disabledCommands: ['STARTTLS'] }),
    new SMTPServer({ disabledCommands: ['STARTTLS'] }),
  ];
  expect(await listening(first, 0, { log })).toBe(true);
  expect(await listening(second, portOf(first), { log })).toBe(false);
  expect(said.join()).toContain(String(portOf(first)));
  expect(first.server.listening).toBe(true);
  await Promise.all([stopped(first), stopped(second)]);
});

describe('readAll', () => {
  const reading = (pieces: readonly string[], most = 100) =>
    readAll(
      Readable.from(pieces.map((text) => Buffer.from(text, 'latin1'))) as unknown as SMTPServerDataStream,
      most,
    );

  it.each([
    ['a\r\nb\r\n', false],
    ['a\nb', true],
    ['a\rb', true],
    ['\n', true],
    ['\r', true],
    ['a\r\r\n', true],
    ['', false],
  ])('sees whether %j has bare line ends, however it comes in pieces', async (text, bare) => {
    for (let cut = 0; cut <= text.length; cut += 1) {
      const mail = await reading([text.slice(0, cut), text.slice(cut)].filter((piece) => piece !== ''));
      expect(mail.bareLineEnds).toBe(bare);
      expect(mail.raw?.toString('latin1')).toBe(text);
    }
  });

  it('keeps nothing of a mail that is too large, and still reads it to its end', async () => {
    expect(await reading(['x'.repeat(60), 'y'.repeat(60), 'z'])).toEqual({ raw: null, bareLineEnds: false });
  });
});
