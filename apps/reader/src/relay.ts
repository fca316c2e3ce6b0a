import {
  createServer,
  type IncomingMessage,
  request as httpRequest,
  type Server,
  type ServerResponse,
} from 'node:http';
import { request as httpsRequest } from 'node:https';
import { pipeline } from 'node:stream';
import { decodeJwt } from 'jose';

/** Only what readers ask for is passed on: a relay opens nothing else of the workbench. */
const PASSED = /^\/api\/reader\/[\w/-]{1,200}$/u;
/** A reader that asked lately counts as one that this relay serves. */
const LATELY_MS = 5 * 60_000;
/** Longer than the workbench holds a request for work. */
const ANSWER_WITHIN_MS = 90_000;
const MOST_OTHERS = 1_000;

/** Passes requests of other readers on to the workbench, where a network lets only one machine out. */
export class Relay {
  private readonly others = new Map<string, number>();
  private readonly server: Server;

  private constructor(
    private readonly workbench: URL,
    private readonly own: string,
  ) {
    this.server = createServer((request, response) => this.pass(request, response));
    this.server.requestTimeout = ANSWER_WITHIN_MS;
  }

  /** Listens on `host:port`; throws where the port is taken. `own` is the id of this reader, told with every request. */
  static async open(
    at: { readonly host: string; readonly port: number },
    { workbench, own }: { readonly workbench: string; readonly own: string },
  ): Promise<Relay> {
    const relay = new Relay(new URL(workbench), own);
    await new Promise<void>((resolve, reject) => {
      relay.server.once('error', reject).listen(at.port, at.host, resolve);
    });
    return relay;
  }

  get port(): number {
    const address = this.server.address();
    return typeof address === 'object' && address !== null ? address.port : 0;
  }

  /** Readers that asked through it lately. */
  serves(now = Date.now()): number {
    for (const [id, at] of this.others) if (now - at > LATELY_MS) this.others.delete(id);
    return this.others.size;
  }

  close(): Promise<void> {
    this.server.closeAllConnections();
    return new Promise((resolve) => this.server.close(() => resolve()));
  }

  private pass(given: IncomingMessage, response: ServerResponse): void {
    const path = given.url ?? '';
    if (!PASSED.test(path)) {
      given.resume();
      return refuse(response, 404, 'A relay passes on what readers ask, and nothing else.');
    }
    this.note(given.headers.authorization);
    const send = this.workbench.protocol === 'https:' ? httpsRequest : httpRequest;
    const { host: _host, connection: _connection, ...headers } = given.headers;
    const onward = send(new URL(path, this.workbench), {
      ...{ method: given.method ?? 'GET', timeout: ANSWER_WITHIN_MS },
      headers: { ...headers, 'x-lantern-relay': this.own },
    });
    onward.once('response', (answer) => {
      response.writeHead(answer.statusCode ?? 502, answer.headers);
      // Where the answer breaks off, so does ours: a reader tries again what it got half of.
      pipeline(answer, response, () => undefined);
    });
    onward.once('timeout', () => onward.destroy(new Error('no answer')));
    onward.once('error', () => {
      if (response.headersSent) response.destroy();
      else refuse(response, 503, 'The workbench does not answer the relay.');
    });
    // Whoever waited is gone: nobody needs the answer.
    response.once('close', () => onward.destroy());
    given.pipe(onward);
  }

  /** Who asks stands in the token; the workbench checks it, here it is only counted. */
  private note(authorization: string | undefined): void {
    if (!authorization?.startsWith('Bearer ')) return;
    try {
      const { iss } = decodeJwt(authorization.slice(7));
      if (iss && iss.length <= 60 && (this.others.has(iss) || this.others.size < MOST_OTHERS))
        this.others.set(iss, Date.now());
    } catch {
      // Not a token: the workbench refuses it.
    }
  }
}

function refuse(response: ServerResponse, status: number, message: string): void {
  response.writeHead(status, { 'content-type': 'application/json' });
  response.end(JSON.stringify({ code: 'internal', message }));
}

/** "0.0.0.0:4700" or "4700"; null for what is neither. */
export function relayAddress(given: string): { readonly host: string; readonly port: number } | null {
  const [, host = '0.0.0.0', port = ''] = /^(?:(.+):)?(\d{1,5})$/u.exec(given.trim()) ?? [];
  const number = Number(port);
  return port !== '' && number > 0 && number < 65_536
    ? { host: host.replace(/^\[|\]$/gu, ''), port: number }
    : null;
}
