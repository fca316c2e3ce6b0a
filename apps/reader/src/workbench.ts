import { setTimeout as wait } from 'node:timers/promises';
import type { Enrolled, EnrolRequest } from '@lantern/contracts/discovery';
import { type Identity, tokenFor } from './identity.js';
import { Ways } from './ways.js';

/** A request that waits for work is held by the workbench for 25 s; all others answer sooner. */
const ANSWER_WITHIN_MS = 60_000;
/** A way that takes longer leads nowhere: work waits while ways are timed. */
const MEASURED_WITHIN_MS = 3_000;
/** A million records are some hundred megabytes. */
const KNOWLEDGE_WITHIN_MS = 10 * 60_000;
/** Pauses between attempts while the workbench does not answer; the last one stays. */
const PAUSES_MS = [500, 1_000, 2_000, 5_000, 10_000, 30_000];

const BAD_GATEWAY = 502;

/** The workbench refused a request: trying again would change nothing. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** Requests to the workbench. Nothing listens here: a reader needs no open port. */
export class Workbench {
  private readonly ways: Ways;

  constructor(
    private readonly identity: () => Identity,
    private readonly signal: AbortSignal,
    private readonly told: (trouble: string | null) => void,
  ) {
    const { address, otherAddresses = [] } = identity();
    this.ways = new Ways([address, ...otherAddresses]);
  }

  /** Takes the nearest of several ways, now and then. */
  async chooseWay(): Promise<void> {
    await this.ways.measure((address) =>
      this.onceAt(address, { method: 'GET', path: 'clock', withinMs: MEASURED_WITHIN_MS }),
    );
    this.signal.throwIfAborted();
  }

  get<Answer>(path: string): Promise<Answer> {
    return this.patiently(() => this.once<Answer>('GET', path));
  }

  post<Answer = void>(path: string, body: unknown): Promise<Answer> {
    return this.patiently(() => this.once<Answer>('POST', path, body));
  }

  /** Tries once: null where the workbench cannot be reached or is too busy. Other refusals are thrown. */
  async attempt<Answer>(path: string, body: unknown, withinMs: number): Promise<Answer | null> {
    return this.orNull(() => this.once<Answer>('POST', path, body, withinMs));
  }

  /** Asks once; null where there is no answer. */
  async ask<Answer>(path: string): Promise<Answer | null> {
    return this.orNull(() => this.once<Answer>('GET', path));
  }

  /** Own records and documents for a part in hand, as they were sealed for this reader. */
  knowledge(part: string): Promise<{ readonly bytes: Buffer; readonly key: string }> {
    return this.patiently(async () => {
      const identity = this.identity();
      const path = `/api/reader/parts/${part}/knowledge`;
      const token = await tokenFor(identity, { method: 'GET', path });
      const response = await fetch(new URL(path, this.ways.current), {
        signal: AbortSignal.any([this.signal, AbortSignal.timeout(KNOWLEDGE_WITHIN_MS)]),
        headers: { authorization: `Bearer ${token}` },
      });
      if (!response.ok) {
        const { code = 'internal', message = '' } = errorOf(await response.text());
        throw new Refused(response.status, code, message);
      }
      return {
        bytes: Buffer.from(await response.arrayBuffer()),
        key: response.headers.get('x-lantern-key') ?? '',
      };
    });
  }

  private async orNull<Answer>(asked: () => Promise<Answer>): Promise<Answer | null> {
    try {
      return await asked();
    } catch (error) {
      if (error instanceof Refused && error.status !== 429 && error.status < 500) throw error;
      return null;
    }
  }

  /** Tries until there is an answer, or the reader is stopped. Reports are written so that twice is the same as once. */
  private async patiently<Answer>(once: () => Promise<Answer>): Promise<Answer> {
    for (let attempt = 0; ; attempt += 1) {
      this.signal.throwIfAborted();
      try {
        const answer = await once();
        if (attempt > 0) this.told(null);
        return answer;
      } catch (error) {
        if (error instanceof Refused && error.status !== 429 && error.status < 500) throw error;
        this.signal.throwIfAborted();
        if (attempt === 0) this.told('The workbench does not answer. Trying again.');
        await wait(PAUSES_MS[Math.min(attempt, PAUSES_MS.length - 1)], undefined, { signal: this.signal });
      }
    }
  }

  private async once<Answer>(
    method: string,
    path: string,
    body?: unknown,
    withinMs = ANSWER_WITHIN_MS,
  ): Promise<Answer> {
    const address = this.ways.current;
    try {
      return await this.onceAt<Answer>(address, { method, path, body, withinMs });
    } catch (error) {
      // A relay that reaches no workbench says so itself.
      if (!(error instanceof Refused) || error.status === BAD_GATEWAY) this.ways.failed(address);
      throw error;
    }
  }

  private async onceAt<Answer>(
    address: string,
    request: {
      readonly method: string;
      readonly path: string;
      readonly body?: unknown;
      readonly withinMs: number;
    },
  ): Promise<Answer> {
    const path = `/api/reader/${request.path}`;
    const token = await tokenFor(this.identity(), { method: request.method, path });
    return send<Answer>(address, { ...request, path, token, signal: this.signal });
  }
}

/** Hands in a code and the public keys of a new reader at the first of some addresses that answers. */
export async function enrol(addresses: readonly string[], request: EnrolRequest): Promise<Enrolled> {
  let fault: unknown;
  for (const address of addresses) {
    try {
      return await send<Enrolled>(address, { method: 'POST', path: '/api/reader/enrol', body: request });
    } catch (error) {
      if (error instanceof Refused && error.status !== BAD_GATEWAY) throw error;
      fault = error;
    }
  }
  throw fault;
}

async function send<Answer>(
  address: string,
  request: {
    readonly method: string;
    readonly path: string;
    readonly body?: unknown;
    readonly token?: string;
    readonly signal?: AbortSignal;
    readonly withinMs?: number;
  },
): Promise<Answer> {
  const { method, path, body, token, signal } = request;
  const within = AbortSignal.timeout(request.withinMs ?? ANSWER_WITHIN_MS);
  const response = await fetch(new URL(path, address), {
    method,
    signal: signal ? AbortSignal.any([signal, within]) : within,
    headers: {
      accept: 'application/json',
      ...(token ? { authorization: `Bearer ${token}` } : {}),
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await response.text();
  if (response.ok) return (text === '' ? undefined : JSON.parse(text)) as Answer;
  const { code = 'internal', message = `The workbench answered ${response.status}.` } = errorOf(text);
  throw new Refused(response.status, code, message);
}

function errorOf(text: string): { readonly code?: string; readonly message?: string } {
  try {
    return JSON.parse(text) as { code?: string; message?: string };
  } catch {
    return {};
  }
}
