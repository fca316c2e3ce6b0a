import type { HandedIn, HandedInUse, IntakeResult } from '@lantern/contracts';
import { MAX_BATCH, shapeFault } from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import type { ApplicationUse } from '@lantern/core/movement';
import { Injectable, Logger } from '@nestjs/common';
import { FileWork } from '../../inspection/file-work.service.js';
import { KeptCopies } from '../../incidents/kept/kept-copies.service.js';
import type { ReadMovement } from '../../inspection/handed-in.js';
import { MachinesService } from '../../directory/machines/machines.service.js';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { type AgentLimits, demandAllowed } from './agent-limits.js';
import { AgentsService } from './agents.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { NOT_JSON } from '../../platform/errors/body-refusal.js';
import { isKnown, type Submission } from '../../movements/submission.js';
import { Movements } from '../../movements/movements.service.js';

/** Batches that are judged side by side; more wait outside with their agent, which loses nothing. */
const MOST_AT_ONCE = 16;

function tooMuch(): AppError {
  return new AppError(
    'too-many-requests',
    'The server is busy. Send the same movements again, with the same keys, after the number of seconds in retry-after.',
  );
}

/** A clock that runs ahead by less is a clock; by more it is a mistake that would put an incident into the future. */
const AHEAD_MS = 5 * 60_000;

/** Takes movements from agents: each judged on its own, once. */
@Injectable()
export class IntakeService {
  private readonly log = new Logger('intake');
  private running = 0;

  constructor(
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly files: FileWork,
    private readonly agents: AgentsService,
    private readonly copies: KeptCopies,
  ) {}

  /** For an agent, by its id. */
  async takeAll(agent: string, body: Uint8Array): Promise<IntakeResult[]> {
    return this.takeFrom(await this.agents.get(agent), body);
  }

  /** In their order, one after the other, so that a batch of an agent that was away is judged as it happened. */
  async takeFrom(by: IntakeSubmitter, body: Uint8Array): Promise<IntakeResult[]> {
    return this.withinBounds(async () => {
      const reading = await this.files.handedIn(body, MAX_BATCH);
      if (reading.status === 'refused') throw new AppError('invalid-request', REFUSALS[reading.why]);
      return this.takeEach(
        by,
        reading.movements.map((movement) => ({ movement })),
      );
    });
  }

  /** Movements that were taken out of another envelope. */
  takeRead(by: IntakeSubmitter, movements: readonly Taken[]): Promise<IntakeResult[]> {
    return this.withinBounds(() => this.takeEach(by, movements));
  }

  private async takeEach(by: IntakeSubmitter, movements: readonly Taken[]): Promise<IntakeResult[]> {
    const results: IntakeResult[] = [];
    for (const taken of movements) results.push(await this.takeOne(by, taken, results.length > 0));
    return results;
  }

  private async withinBounds<Result>(work: () => Promise<Result>): Promise<Result> {
    if (this.running >= MOST_AT_ONCE) throw tooMuch();
    this.running += 1;
    try {
      return await work();
    } catch (error) {
      throw error instanceof AppError && error.code === 'busy' ? tooMuch() : error;
    } finally {
      this.running -= 1;
    }
  }

  /** Each movement is answered on its own: one that cannot be kept does not keep the others back. */
  private async takeOne(
    agent: IntakeSubmitter,
    { movement: read, happened = false }: Taken,
    someDone: boolean,
  ): Promise<IntakeResult> {
    const { given: told } = read;
    const key = 'key' in told && typeof told.key === 'string' ? told.key.slice(0, 100) : '';
    try {
      const given = await this.submissionOf(handedInOf(read, agent.states));
      const submission = happened ? { ...given, happened } : given;
      const by = { submitter: agent.id, key };
      const { person, at } = submission;
      const demand = () =>
        demandAllowed(agent, { person: isKnown(person) ? factsOf(person) : person, at, now: new Date() });
      return { status: 'judged', ...(await this.movements.submit(by, submission, { demand })) };
    } catch (error) {
      if (error instanceof AppError && error.code !== 'busy')
        return { status: 'refused', key, code: error.code, message: error.message };
      // Being too busy is the whole request's answer where nothing of it was judged yet.
      if (error instanceof AppError && !someDone) throw error;
      if (!(error instanceof AppError))
        this.log.error(`A movement could not be judged: ${error instanceof Error ? error.name : 'unknown'}`);
      const refusal = error instanceof AppError ? error : COULD_NOT;
      return { status: 'refused', key, code: refusal.code, message: refusal.message };
    }
  }

  private async submissionOf({ given, files }: ReadHandedIn): Promise<Submission> {
    const address = given.person.trim().toLowerCase();
    const [person] = await this.people.findByAddresses([address]);
    const at = timeOf(given.at);
    const lower = (addresses: readonly string[]): string[] => [
      ...new Set(addresses.map((each) => each.trim().toLowerCase()).filter(Boolean)),
    ];
    return {
      channel: given.channel,
      activity: given.activity,
      person: person ?? { address },
      at,
      to: lower([...given.to, ...given.guests]),
      guests: lower(given.guests),
      texts: given.texts.map(({ role, text }) => ({ role, path: [role], text })),
      files: given.files.map(({ name }, index) => ({ name, bytes: files[index] ?? Buffer.alloc(0) })),
      from: given.takenFrom,
      into: given.putInto,
      ...(given.window ? { window: given.window } : {}),
      ...(given.pictures.length > 0
        ? { pictures: this.copies.readPictures(given.channel, given.pictures, at) }
        : {}),
      ...(given.link ? { link: given.link } : {}),
      connection: given.connection,
      ...(given.use ? { use: useOf(given.use) } : {}),
      network: given.network,
      ...(given.machine ? { machine: await this.machines.machine(given.machine) } : {}),
    };
  }
}

/** A movement as it was read; what happened already is recorded, and nothing holds it back. */
interface Taken {
  readonly movement: ReadMovement;
  readonly happened?: boolean;
}

/** Who hands movements in, with what it may and what is known of it without its saying so. */
export interface IntakeSubmitter extends AgentLimits {
  readonly id: string;
  /** Fields that hold whatever the movement says. */
  readonly states?: Partial<Pick<HandedIn, 'person' | 'machine' | 'channel'>>;
}

interface ReadHandedIn {
  readonly given: HandedIn;
  readonly files: readonly Uint8Array[];
}

function handedInOf(
  { given: told, files, wrongFile }: ReadMovement,
  states: IntakeSubmitter['states'],
): ReadHandedIn {
  const given = { ...told, ...states };
  const fault = shapeFault('movement', given);
  if (fault)
    throw new AppError('invalid-request', `${fault.path.join('.') || 'The movement'} ${fault.message}.`);
  if (wrongFile !== null) throw new AppError('invalid-request', 'A file is not in base 64 (RFC 4648).');
  if (files.some(({ length }) => length > MAX_FILE_BYTES))
    throw new AppError('file-too-large', 'A file is larger than the limit.', {
      details: { limit: Math.floor(MAX_FILE_BYTES / 1024 / 1024) },
    });
  const movement = given as HandedIn;
  const isEmpty = movement.texts.every(({ text }) => text === '') && movement.files.length === 0;
  // A sign-in or another application has no content; what is done with it is what is judged.
  if (isEmpty && movement.use === null)
    throw new AppError('empty-movement', 'The movement has no content, so there is nothing to judge.');
  return { given: movement, files };
}

function useOf({ report, rows, before, columns, rights, signIn, ...use }: HandedInUse): ApplicationUse {
  return {
    ...use,
    ...(report === null ? {} : { report }),
    ...(rows === null ? {} : { rows: wholeRows(rows, 'rows') }),
    ...(before === null ? {} : { before: wholeRows(before, 'before') }),
    ...(columns.length > 0 ? { columns } : {}),
    ...(rights.length > 0 ? { rights } : {}),
    ...(signIn === null
      ? {}
      : {
          signIn: {
            at: timeOf(signIn.at).getTime(),
            proof: signIn.proof,
            ...(signIn.country === null ? {} : { country: signIn.country }),
          },
        }),
  };
}

function wholeRows(rows: number, field: 'rows' | 'before'): number {
  if (Number.isSafeInteger(rows) && rows >= 0) return rows;
  throw new AppError('invalid-request', `use.${field} must be a whole number of records.`);
}

const COULD_NOT = new AppError(
  'internal',
  'The server could not judge this movement. Nothing was kept. Send it again with the same key.',
);

const REFUSALS = {
  'no-json': NOT_JSON,
  'no-movements': 'movements must be a list of one movement or more.',
  'too-many': `movements must hold ${MAX_BATCH} movements at most.`,
} as const;

function timeOf(at: string | null): Date {
  if (at === null) return new Date();
  const time = Date.parse(at);
  if (Number.isNaN(time))
    throw new AppError('invalid-request', 'at must be a time like 2026-03-04T12:00:00Z.');
  if (time > Date.now() + AHEAD_MS)
    throw new AppError(
      'from-the-future',
      'The movement is dated in the future. Nothing was kept. Check the clock of the agent.',
    );
  return new Date(time);
}
