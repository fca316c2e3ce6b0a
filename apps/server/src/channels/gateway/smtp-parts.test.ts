import { Logger } from '@nestjs/common';
import { SMTPServer } from 'smtp-server';
import { listening, portOf, stopped } from './smtp-parts.js';

it('says that a port is taken, and leaves whoever has it alone', async () => {
  const log = new Logger('test');
  const errors = jest.spyOn(log, 'error').mockImplementation(() => undefined);
  const [first, second] = [
    new SMTPServer({ secure: false, disabledCommands: ['STARTTLS'] }),
    new SMTPServer({ disabledCommands: ['STARTTLS'] }),
  ];
  expect(await listening(first, 0, log)).toBe(true);
  expect(await listening(second, portOf(first), log)).toBe(false);
  expect(errors).toHaveBeenCalledWith(expect.stringContaining(String(portOf(first))));
  expect(first.server.listening).toBe(true);
  await Promise.all([stopped(first), stopped(second)]);
});
