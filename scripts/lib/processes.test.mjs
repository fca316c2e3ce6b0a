import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { demandPort, freePort, isAlive, stopProcess } from './processes.mjs';

describe('ports', () => {
  it('finds one that nobody listens on', async () => {
    await expect(demandPort(await freePort())).resolves.toBeUndefined();
  });

  it('says in words that one is taken, and what to do', async () => {
    const port = await freePort();
    const server = createServer().listen(port, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    await expect(demandPort(port)).rejects.toMatchObject({
      message: `Port ${port} is in use by another program.`,
      wayOn: expect.stringContaining('PORT='),
    });
    await new Promise((resolve) => server.close(resolve));
  });
});

describe('stopProcess', () => {
  it('stops one that listens to signals, and one that does not', async () => {
    const polite = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)'], { stdio: 'ignore' });
    const deaf = spawn(
      process.execPath,
      ['-e', 'process.on("SIGTERM", () => {}); console.log("up"); setInterval(() => {}, 1000)'],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    await new Promise((resolve) => deaf.stdout.once('data', resolve));
    await stopProcess(polite.pid);
    await stopProcess(deaf.pid, 300);
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect([isAlive(polite.pid), isAlive(deaf.pid)]).toEqual([false, false]);
  });
});
