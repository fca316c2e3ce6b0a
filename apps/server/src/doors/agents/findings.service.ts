import { createHash } from 'node:crypto';
import { type FindingResult, MAX_FINDINGS } from '@lantern/contracts';
import { type FindingFault, readFinding, type ReportedFinding } from '@lantern/core/incidents';
import { Injectable, Logger } from '@nestjs/common';
import { MachinesService } from '../../directory/machines/machines.service.js';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { Movements } from '../../movements/movements.service.js';
import { isKnown, type Submission, type SubmittedBy } from '../../movements/submission.js';
import { AppError } from '../../platform/errors/app-error.js';
import { isTooDeep } from '../../platform/http/json-shape.js';
import { demandAllowed } from './agent-limits.js';
import { AgentsService } from './agents.service.js';
import type { IntakeSubmitter } from './intake.service.js';

/** Largest body, in bytes: five hundred findings with their evidence. */
const MAX_BODY = 8 * 1024 * 1024;
/** Longest text of a finding as it came that is kept beside its words, in characters. */
const MAX_WHOLE = 100_000;
/** A clock that runs ahead by less is a clock. */
const AHEAD_MS = 5 * 60_000;
/** Whom a finding is about that names nobody. */
const NOT_NAMED = 'not-named';

/** Takes findings of other systems: each becomes an incident under the name of that system, once. */
@Injectable()
export class FindingsIntake {
  private readonly log = new Logger('findings');

  constructor(
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly agents: AgentsService,
  ) {}

  /** Findings in a body: one, a list of them, or one a line. Throws `invalid-request` where it is none of these. */
  async takeAll(agentId: string, body: Uint8Array): Promise<FindingResult[]> {
    const agent = await this.agents.get(agentId);
    const results: FindingResult[] = [];
    for (const [at, value] of findingsIn(body).entries()) results.push(await this.take(agent, value, at));
    return results;
  }

  private async take(agent: IntakeSubmitter, value: unknown, at: number): Promise<FindingResult> {
    if (value === NOT_JSON) return refused(at, '', 'invalid-request', 'This line is not JSON.');
    const read = readFinding(value);
    if (read.status === 'faulty') return refused(at, read.fault.at, read.fault.code, sentenceOf(read.fault));
    const { finding } = read;
    const key = keyOf(finding);
    const by = { submitter: agent.id, key };
    const now = new Date();
    const isAhead = finding.at !== null && finding.at > now.getTime() + AHEAD_MS;
    try {
      const known = await this.known(by, finding);
      if (known) return known;
      const when = finding.at === null || isAhead ? now : new Date(finding.at);
      const submission = await this.submissionOf(finding, value, when);
      const { person } = submission;
      const demand = () =>
        demandAllowed(agent, { person: isKnown(person) ? factsOf(person) : person, at: when, now });
      const { incident } = await this.movements.submit(by, submission, { demand });
      if (incident === null) throw new Error('A finding made no incident');
      return { status: 'taken', uid: finding.uid, incident, dated: isAhead ? 'as-it-came' : 'as-said' };
    } catch (error) {
      if (error instanceof AppError && error.code === 'busy') throw error;
      // It came in twice at once, and said other things.
      const first =
        error instanceof AppError && error.code === 'key-used' ? await this.known(by, finding) : null;
      if (first) return first;
      if (!(error instanceof AppError))
        this.log.error(`A finding could not be taken: ${error instanceof Error ? error.name : 'unknown'}`);
      return error instanceof AppError
        ? refused(at, '', error.code, error.message)
        : refused(at, '', 'internal', 'The server could not take this finding. Send it again.');
    }
  }

  /** What was answered when it came first; null where it is new. */
  private async known(by: SubmittedBy, { uid }: ReportedFinding): Promise<FindingResult | null> {
    const incident = await this.movements.incidentUnder(by);
    return incident === null ? null : { status: 'known', uid, incident };
  }

  private async submissionOf(finding: ReportedFinding, value: unknown, at: Date): Promise<Submission> {
    const { channel, origin, severity, title, text, machine } = finding;
    const address = finding.person ?? NOT_NAMED;
    const [person] = finding.person === null ? [] : await this.people.findByAddresses([address]);
    return {
      ...{ channel, at, to: [], files: [], happened: true },
      // What was done stands in the finding, in words of its own.
      activity: 'send',
      person: person ?? { address },
      reportedBy: { name: origin, severity },
      texts: [
        { role: 'subject', path: ['subject'], text: title },
        { role: 'body', path: ['body'], text },
        {
          role: 'attachment',
          path: ['finding.json'],
          text: JSON.stringify(value, null, 2).slice(0, MAX_WHOLE),
        },
      ],
      ...(machine ? { machine: await this.machines.machine(machine) } : {}),
    };
  }
}

/** Stands for a line that is not JSON. */
const NOT_JSON = Symbol('not JSON');

function findingsIn(body: Uint8Array): unknown[] {
  const refuse = (message: string) => new AppError('invalid-request', message);
  if (body.length > MAX_BODY)
    throw refuse(
      `The body is larger than ${MAX_BODY / 1024 / 1024} MiB. Nothing was kept. Send fewer findings.`,
    );
  if (isTooDeep(body))
    throw refuse('The body is nested too deep, or holds too many values. Nothing was kept.');
  const text = new TextDecoder().decode(body).trim();
  const whole = parsed(text);
  const lines = () => text.split(/\r?\n/u).filter((line) => line.trim() !== '');
  const found =
    whole === NOT_JSON ? lines().map(parsed) : Array.isArray(whole) ? (whole as unknown[]) : [whole];
  if (text === '' || found.every((one) => one === NOT_JSON))
    throw refuse('The body is no JSON: one finding, a list of findings, or one finding a line.');
  if (found.length > MAX_FINDINGS)
    throw refuse(`Send ${MAX_FINDINGS} findings at most at once. Nothing was kept.`);
  return found;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return NOT_JSON;
  }
}

/** The same finding of the same system has the same key. */
const keyOf = ({ origin, uid }: ReportedFinding): string =>
  `finding:${createHash('sha256').update(`${origin}\n${uid}`).digest('hex')}`;

const refused = (at: number, where: string, code: string, message: string): FindingResult => ({
  ...{ status: 'refused', code, message },
  place: `finding ${at + 1}${where === '' ? '' : `, ${where}`}`,
});

function sentenceOf({ code, at }: FindingFault): string {
  switch (code) {
    case 'no-object':
      return 'A finding is an object with attributes.';
    case 'missing':
      return `${at} is missing.`;
    case 'wrong-kind':
      return `${at} is not of the kind that the schema gives it.`;
    case 'bad-time':
      return `${at} is no time between 1970 and 9999.`;
    case 'other-class':
      return 'Only findings are taken: class_uid 2001, 2004 or 2006.';
    case 'own-finding':
      return 'This is a finding of Uncut Lantern itself. It is counted already.';
  }
}
