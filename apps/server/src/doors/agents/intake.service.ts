import type { HandedIn, IntakeResult } from '@lantern/contracts';
import { shapeFault } from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { MachinesService } from '../../people/machines.service.js';
import { PeopleService } from '../../people/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { Submission } from '../../movements/submission.js';
import { Movements } from '../../movements/movements.service.js';

/** Batches that are judged side by side; more wait outside with their agent, which loses nothing. */
const MOST_AT_ONCE = 16;

function tooMuch(): AppError {
  return new AppError(
    'too-many-requests',
    'Much is being judged. Hand the same in again, with the same keys, after the seconds of retry-after.',
  );
}

/** A clock that runs ahead by less is a clock; by more it is a mistake that would put an incident into the future. */
const AHEAD_MS = 5 * 60_000;

/** Takes movements from agents: each judged on its own, once. */
@Injectable()
export class IntakeService {
  private running = 0;

  constructor(
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
  ) {}

  /** In their order, one after the other, so that a batch of an agent that was away is judged as it happened. */
  async takeAll(agent: string, movements: readonly object[]): Promise<IntakeResult[]> {
    if (this.running >= MOST_AT_ONCE) throw tooMuch();
    this.running += 1;
    try {
      const results: IntakeResult[] = [];
      for (const given of movements) results.push(await this.takeOne(agent, given));
      return results;
    } catch (error) {
      throw error instanceof AppError && error.code === 'busy' ? tooMuch() : error;
    } finally {
      this.running -= 1;
    }
  }

  private async takeOne(agent: string, given: object): Promise<IntakeResult> {
    const key = 'key' in given && typeof given.key === 'string' ? given.key.slice(0, 100) : '';
    try {
      const movement = readHandedIn(given);
      const attempt = await this.attemptOf(movement);
      return { status: 'judged', ...(await this.movements.submit({ submitter: agent, key: movement.key }, attempt)) };
    } catch (error) {
      // Being too busy is the whole request's answer; anything else is said of the one movement.
      if (!(error instanceof AppError) || error.code === 'busy') throw error;
      return { status: 'refused', key, code: error.code, message: error.message };
    }
  }

  private async attemptOf(given: HandedIn): Promise<Submission> {
    const address = given.person.trim().toLowerCase();
    const [person] = await this.people.findByAddresses([address]);
    const lower = (addresses: readonly string[]): string[] => [
      ...new Set(addresses.map((each) => each.trim().toLowerCase()).filter(Boolean)),
    ];
    return {
      channel: given.channel,
      activity: given.activity,
      person: person ?? { address },
      at: timeOf(given.at),
      to: lower([...given.to, ...given.guests]),
      guests: lower(given.guests),
      texts: given.texts.map(({ role, text }) => ({ role, path: [role], text })),
      files: given.files.map(fileOf),
      from: given.takenFrom,
      into: given.putInto,
      ...(given.link ? { link: given.link } : {}),
      connection: given.connection,
      network: given.network,
      ...(given.machine ? { machine: await this.machines.machine(given.machine) } : {}),
    };
  }
}

function readHandedIn(given: object): HandedIn {
  const fault = shapeFault('movement', given);
  if (fault)
    throw new AppError('invalid-request', `${fault.path.join('.') || 'The movement'} ${fault.message}.`);
  const movement = given as HandedIn;
  if (movement.texts.every(({ text }) => text === '') && movement.files.length === 0)
    throw new AppError('empty-movement', 'The movement has no content, so there is nothing to judge.');
  return movement;
}

function timeOf(at: string | null): Date {
  if (at === null) return new Date();
  const time = Date.parse(at);
  if (Number.isNaN(time)) throw new AppError('invalid-request', 'at is no time like 2026-03-04T12:00:00Z.');
  if (time > Date.now() + AHEAD_MS)
    throw new AppError(
      'from-the-future',
      'The movement is dated in the future. Set the clock of the agent; nothing was kept of it.',
    );
  return new Date(time);
}

/** Base 64 (RFC 4648, section 4), line breaks allowed. */
const BASE64 = /^[A-Za-z0-9+/\s]*={0,2}\s*$/;

function fileOf({ name, base64 }: HandedIn['files'][number]): { name: string; bytes: Uint8Array } {
  if (!BASE64.test(base64)) throw new AppError('invalid-request', 'A file is not in base 64 (RFC 4648).');
  const bytes = Buffer.from(base64, 'base64');
  if (bytes.length > MAX_FILE_BYTES)
    throw new AppError('file-too-large', 'A file is larger than is read.', {
      details: { limit: Math.floor(MAX_FILE_BYTES / 1024 / 1024) },
    });
  return { name, bytes };
}
