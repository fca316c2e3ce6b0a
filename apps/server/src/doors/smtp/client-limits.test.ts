import { EventEmitter, once } from 'node:events';
import { type AddressInfo, connect, createServer, type Server } from 'node:net';
import { ClientLimits, MAX_CLIENTS } from './client-limits.js';

/** A connection as a server sees it. */
class SomeSocket extends EventEmitter {
  destroyed = false;
  constructor(
    readonly remoteAddress: string,
    readonly remotePort: number,
  ) {
    super();
  }
  destroy(): void {
    this.destroyed = true;
    this.emit('close');
  }
}

describe('ClientLimits', () => {
  const limits: ClientLimits[] = [];
  const fresh = () => {
    const server = new EventEmitter();
    const limit = new ClientLimits();
    limits.push(limit);
    limit.watch(server as Server);
    const join = (address: string, port: number): SomeSocket => {
      const socket = new SomeSocket(address, port);
      server.emit('connection', socket);
      return socket;
    };
    return { limit, join };
  };
  afterAll(() => limits.forEach((limit) => limit.stop()));

  it('ends the one of a greedy address that has been silent longest, and nobody else', () => {
    const { join } = fresh();
    const stranger = join('10.0.0.9', 1);
    const mine = Array.from({ length: 41 }, (_unused, port) => join('10.0.0.1', port));
    expect(mine.map(({ destroyed }) => destroyed).filter(Boolean)).toHaveLength(1);
    expect(mine[0]?.destroyed).toBe(true);
    expect(stranger.destroyed).toBe(false);
  });

  it('never ends one whose mail is being worked on', () => {
    const { limit, join } = fresh();
    const busy = join('10.0.0.1', 1);
    limit.busy(1, '10.0.0.1', true);
    const others = Array.from({ length: MAX_CLIENTS + 20 }, (_unused, each) =>
      join(`10.1.0.${each}`, each + 2),
    );
    expect(busy.destroyed).toBe(false);
    expect(others.filter(({ destroyed }) => !destroyed)).toHaveLength(MAX_CLIENTS - 1);
    limit.busy(1, '10.0.0.1', false);
  });

  it('lets a new client in where a hundred say nothing', async () => {
    const server = createServer((socket) => socket.on('error', () => undefined));
    const limit = new ClientLimits();
    limits.push(limit);
    limit.watch(server);
    await once(server.listen(0, '127.0.0.1'), 'listening');
    const { port } = server.address() as AddressInfo;
    const silent = await Promise.all(
      Array.from({ length: 60 }, async () => {
        const socket = connect(port, '127.0.0.1').on('error', () => undefined);
        await once(socket, 'connect');
        return socket;
      }),
    );
    const last = silent.at(-1);
    last?.write('EHLO\r\n');
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(silent.filter(({ closed, readableEnded }) => closed || readableEnded).length).toBeGreaterThan(0);
    expect(last?.closed).toBe(false);
    for (const socket of silent) socket.destroy();
    await new Promise((resolve) => server.close(resolve));
  });
});
