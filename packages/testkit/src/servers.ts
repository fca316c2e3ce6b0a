import { type ChildProcess, execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';

/** A program that a test started, in a folder of its own. */
export interface TestServer {
  readonly port: number;
  readonly folder: string;
  stop(): Promise<void>;
}

const READY_WITHIN_MS = 30_000;

/** A port on loopback that nobody uses now. */
export async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  await new Promise((resolve) => server.close(resolve));
  return port;
}

function reachable(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), resolve(true)));
    socket.once('error', () => resolve(false));
  });
}

/** Waits until a program listens; stopping it takes its folder away. Throws what it said where it did not start. */
export async function running(child: ChildProcess, port: number, folder: string): Promise<TestServer> {
  let said = '';
  child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString('utf8').slice(0, 2_000)));
  for (let waited = 0; !(await reachable(port)); waited += 100) {
    if (waited > READY_WITHIN_MS || child.exitCode !== null)
      throw new Error(`A server of the tests did not start: ${said.slice(0, 1_000)}`);
    await wait(100);
  }
  const stop = async (): Promise<void> => {
    if (child.exitCode === null) {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await ended;
    }
    rmSync(folder, { recursive: true, force: true });
  };
  return { port, folder, stop };
}

/** A key and a certificate of its own for 127.0.0.1, for two days. */
export function ownCertificate(key: string, certificate: string): void {
  execFileSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-keyout', key, '-out', certificate],
      ...['-days', '2', '-subj', '/CN=127.0.0.1', '-addext', 'subjectAltName=IP:127.0.0.1'],
    ],
    { stdio: 'ignore' },
  );
}
