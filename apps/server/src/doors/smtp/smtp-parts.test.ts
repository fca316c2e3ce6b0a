import type { Logger } from '@nestjs/common';
import { SMTPServer } from 'smtp-server';
import { listening, portOf, stopped } from './smtp-parts.js';

it('says that a port is taken, and leaves whoever has it alone', async () => {
  const said: string[] = [];
  const log = { error: (words: string) => said.push(words) } as unknown as Logger;
  const [first, second] = [
    new SMTPServer({ secure: false, disabledCommands: ['STARTTLS'] }),
    new SMTPServer({ disabledCommands: ['STARTTLS'] }),
  ];
  expect(await listening(first, 0, log)).toBe(true);
  expect(await listening(second, portOf(first), log)).toBe(false);
  expect(said.join()).toContain(String(portOf(first)));
  expect(first.server.listening).toBe(true);
  await Promise.all([stopped(first), stopped(second)]);
});
