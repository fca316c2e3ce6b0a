import type { Server, Socket } from 'node:net';

/** Clients at the same time: a new one beyond it takes the place of whoever has been silent longest. */
export const MAX_CLIENTS = 100;
/** Of one address. Mail programs open a handful; a queue that empties opens twenty. */
const MAX_OF_ONE_ADDRESS = 40;
/** Nobody loses a place before being silent for so long: clients that are all at work must not push each other out. */
const SILENT_MS = 3_000;
/** A client that has begun no mail and says nothing for so long is gone. */
const IDLE_MS = 60_000;

interface Client {
  readonly socket: Socket;
  readonly address: string;
  lastHeard: number;
  /** A mail of it is being received or judged: it is not pushed out. */
  busy: boolean;
}

/**
 * Keeps a few clients from taking all connections: a new one finds room by ending the connection that has been silent
 * longest, first of its own address where that has more than its share. Where all are at work, the new one is told to
 * come again.
 */
export class ClientLimits {
  private readonly clients = new Map<string, Client>();
  /** Connections for which there was no room. */
  private readonly away = new Set<string>();
  private readonly sweeper = setInterval(() => this.sweep(Date.now()), IDLE_MS / 4).unref();

  watch(server: Server): void {
    server.prependListener('connection', (socket: Socket) => this.add(socket));
  }

  /** Whether there is room for a client that has just connected. */
  admits(remotePort: number, address: string): boolean {
    return !this.away.has(keyOf(address, remotePort));
  }

  /** A mail of the client at this port is being worked on, or is done. */
  busy(remotePort: number, address: string, busy: boolean): void {
    const client = this.clients.get(keyOf(address, remotePort));
    if (!client) return;
    client.busy = busy;
    client.lastHeard = Date.now();
  }

  stop(): void {
    clearInterval(this.sweeper);
    for (const { socket } of this.clients.values()) socket.destroy();
  }

  private add(socket: Socket): void {
    const address = socket.remoteAddress ?? '';
    const key = keyOf(address, socket.remotePort ?? 0);
    const client: Client = { socket, address, lastHeard: Date.now(), busy: false };
    const mine = [...this.clients.values()].filter((other) => other.address === address);
    if (
      (mine.length >= MAX_OF_ONE_ADDRESS && !pushOut(mine)) ||
      (this.clients.size >= MAX_CLIENTS && !pushOut([...this.clients.values()]))
    ) {
      this.away.add(key);
      socket.once('close', () => this.away.delete(key));
      return;
    }
    this.clients.set(key, client);
    socket.on('data', () => (client.lastHeard = Date.now()));
    socket.once('close', () => this.clients.delete(key));
  }

  private sweep(now: number): void {
    for (const { socket, busy, lastHeard } of this.clients.values())
      if (!busy && now - lastHeard > IDLE_MS) socket.destroy();
  }
}

/** An IPv4 address may be written inside an IPv6 one (RFC 4291, 2.5.5.2). */
const keyOf = (address: string, port: number): string => `${address.replace(/^::ffff:/i, '')} ${port}`;

/** Ends the connection that has been silent longest; false where none was silent for long. */
function pushOut(clients: readonly Client[]): boolean {
  const [idlest] = clients
    .filter(({ busy, socket }) => !busy && !socket.destroyed)
    .sort((left, right) => left.lastHeard - right.lastHeard);
  if (!idlest || Date.now() - idlest.lastHeard < SILENT_MS) return false;
  idlest.socket.destroy();
  return true;
}
