import { EventEmitter } from 'node:events';
import type { Server } from 'node:net';
import { jest } from '@jest/globals';
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

  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('ends the one of a greedy address that has been silent longest, and nobody else', () => {
    const { limit, join } = fresh();
    const stranger = join('10.0.0.9', 1);
    const mine = Array.from({ length: 40 }, (_unused, port) => join('10.0.0.1', port));
    jest.advanceTimersByTime(4_000);
    for (const client of mine.slice(1)) client.emit('data', 'EHLO');
    mine.push(join('10.0.0.1', 40));
    expect(mine.findIndex(({ destroyed }) => destroyed)).toBe(0);
    expect(mine.filter(({ destroyed }) => destroyed)).toHaveLength(1);
    expect(stranger.destroyed).toBe(false);
    expect(limit.admits(40, '::ffff:10.0.0.1')).toBe(true);
  });

  it('tells a new one to come again where all are at work, so that they do not push each other out for ever', () => {
    const { limit, join } = fresh();
    const all = Array.from({ length: MAX_CLIENTS + 20 }, (_unused, each) => join(`10.1.0.${each}`, each));
    expect(all.filter(({ destroyed }) => destroyed)).toHaveLength(0);
    const admitted = all.filter(({ remotePort, remoteAddress }) => limit.admits(remotePort, remoteAddress));
    expect(admitted).toHaveLength(MAX_CLIENTS);
    all[0]?.destroy();
    join('10.2.0.1', 1);
    expect(limit.admits(1, '10.2.0.1')).toBe(true);
  });

  it('never ends one whose mail is being worked on', () => {
    const { limit, join } = fresh();
    const busy = join('10.0.0.1', 1);
    limit.busy(1, '10.0.0.1', true);
    jest.advanceTimersByTime(300_000);
    expect(busy.destroyed).toBe(false);
    limit.busy(1, '10.0.0.1', false);
    jest.advanceTimersByTime(300_000);
    expect(busy.destroyed).toBe(true);
  });
});
