import { randomUUID } from 'node:crypto';
import { type DemoOutcome, type DemoPastMovement, past } from '@lantern/demo';
import type { DeskAct } from '@lantern/core/incidents';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachinesService } from '../directory/machines/machines.service.js';
import { PeopleService, type Player } from '../directory/people.service.js';
import type { PersonEntity } from '../directory/person.entity.js';
import { Acts } from '../incidents/acts.service.js';
import { HistoryEntity, IncidentEntity } from '../incidents/incident.entity.js';
import { TraitEntity } from '../incidents/queue/trait.entity.js';
import { MovementJudge } from '../movements/judge.service.js';
import { type JudgedMovement, type PreparedRecord, RecorderService } from '../movements/recorder.service.js';
import type { Submission } from '../movements/submission.js';
import type { Caller } from '../platform/auth/permit.js';
import { DeskService } from '../stand-ins/posts/desk.service.js';
import type { Way } from '../stand-ins/posts/posts.service.js';

/** Movements that are read and judged side by side. */
const AT_ONCE = 12;
/** Movements that are written in one transaction: a commit waits for the disk. */
const WRITTEN = 250;
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Younger incidents are still open, but for some. */
const DECIDED_AFTER_DAYS = 6;

interface Judged {
  readonly move: DemoPastMovement;
  readonly judged: JudgedMovement;
  readonly recorded: PreparedRecord;
}

/**
 * The weeks before the demo begins: judged by the real evaluation and recorded like everything else, many in one
 * transaction. Nobody waited for these verdicts, so no submission and no mailbox keeps them.
 */
@Injectable()
export class DemoPast {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly desk: DeskService,
    private readonly judge: MovementJudge,
    private readonly recorder: RecorderService,
    private readonly acts: Acts,
  ) {}

  async load(say: (text: string) => void, analysts: readonly Caller[], part: number): Promise<void> {
    const moves = past(Date.now(), part);
    say(`Loading the demo: judging ${moves.length.toLocaleString('en-GB')} movements of the last 12 weeks …`);
    const people = new Map((await this.people.all()).map((person) => [person.address, person]));
    const ways = new Map<string, Promise<Way>>();
    let writing: Promise<void> = Promise.resolve();
    for (let from = 0; from < moves.length; from += WRITTEN) {
      const chunk = await this.judgeAll(moves.slice(from, from + WRITTEN), people, ways);
      await writing;
      // The next ones are judged while these are written.
      writing = this.write(chunk, analysts);
    }
    await writing;
  }

  private async judgeAll(
    moves: readonly DemoPastMovement[],
    people: ReadonlyMap<string, PersonEntity>,
    ways: Map<string, Promise<Way>>,
  ): Promise<Judged[]> {
    const judged = new Array<Judged>(moves.length);
    const waiting = moves.entries();
    const judgeNext = async () => {
      for (const [at, move] of waiting) {
        const person = people.get(move.person);
        if (!person) throw new Error('The demo moves something for somebody who is not in its directory');
        const submission = await this.submissionOf(move, person, ways);
        const result = await this.judge.judge(submission);
        judged[at] = { move, judged: result, recorded: await this.recorder.prepare(randomUUID(), result) };
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, judgeNext));
    return judged;
  }

  private async submissionOf(
    move: DemoPastMovement,
    person: PersonEntity,
    ways: Map<string, Promise<Way>>,
  ): Promise<Submission> {
    const key = [move.channel, move.place, move.person, move.activity, move.takenFrom].join(' ');
    const way = ways.get(key) ?? this.wayOf(move, person);
    ways.set(key, way);
    const texts = [
      ...(move.subject ? [{ role: 'subject' as const, path: ['subject'], text: move.subject }] : []),
      ...(move.text ? [{ role: 'body' as const, path: ['text'], text: move.text }] : []),
    ];
    return {
      ...(await way),
      ...(move.channel === 'mail' ? { to: move.to } : {}),
      person,
      at: new Date(move.at),
      texts,
      files: move.files,
    };
  }

  private async wayOf(move: DemoPastMovement, person: PersonEntity): Promise<Way> {
    const { channel, activity, place, takenFrom } = move;
    if (channel === 'mail') {
      const machine = await this.machines.ofPerson(person.address);
      return { channel, activity: 'send', to: [], ...(machine ? { machine } : {}) };
    }
    const player: Player = { person, name: person.name, address: person.address, outside: false };
    return this.desk.wayOf(this.desk.target(channel, place), player, { agent: channel, activity, takenFrom });
  }

  private write(chunk: readonly Judged[], analysts: readonly Caller[]): Promise<void> {
    return this.manager.transaction(async (manager) => {
      await this.recorder.recordQuiet(
        manager,
        chunk.filter(({ recorded }) => !recorded.summary),
      );
      const loud = chunk.filter(({ recorded }) => recorded.summary);
      for (const [at, { move, judged, recorded }] of loud.entries()) {
        const number = await this.recorder.record(manager, judged, recorded);
        if (number === null) continue;
        await this.answered(manager, { move, judged, movementId: recorded.movementId, number });
        await this.decide(manager, number, move, analysts[(number + at) % analysts.length]);
      }
    });
  }

  /** What people answered, and the overrides they asked for, as they stand in history. */
  private async answered(
    manager: EntityManager,
    {
      move,
      judged,
      movementId,
      number,
    }: {
      readonly move: DemoPastMovement;
      readonly judged: JudgedMovement;
      readonly movementId: string;
      readonly number: number;
    },
  ): Promise<void> {
    const entry = (
      minutes: number,
      kind: 'reply' | 'override',
      text: string,
      actor = judged.person.name,
    ) => ({
      incidentNumber: number,
      at: new Date(move.at + minutes * 60_000),
      ...{ actor, kind, act: null, text },
    });
    const trait = (field: 'reply' | 'override', value: string) => ({
      movementId,
      incidentNumber: number,
      field,
      value,
    });
    if (judged.verdict.answer === 'ask') {
      const isWork = number % 4 !== 0;
      const text = isWork ? 'It goes on: It is for our work' : 'Taken back: I take it back';
      await manager.insert(HistoryEntity, entry(2, 'reply', text));
      await manager.insert(TraitEntity, trait('reply', isWork ? 'work' : 'mistake'));
    }
    if (move.override && judged.verdict.answer === 'block') {
      const { words, approved } = move.override;
      await manager.insert(HistoryEntity, [
        entry(3, 'override', `Override requested: ${words}`),
        entry(40, 'override', approved ? 'It goes on: agreed' : 'It stays: use the portal', 'Milo Brandt'),
      ]);
      await manager.insert(TraitEntity, [
        trait('override', 'requested'),
        trait('override', approved ? 'approved' : 'refused'),
      ]);
    }
  }

  /** Analysts decide most of what is older than some days, and do not always agree with each other. */
  private async decide(
    manager: EntityManager,
    number: number,
    { at, outcome }: DemoPastMovement,
    analyst: Caller | undefined,
  ): Promise<void> {
    const age = Date.now() - at;
    const isOld = age > DECIDED_AFTER_DAYS * DAY_MS;
    if (!analyst || outcome === null || (isOld ? number % 9 === 0 : number % 6 !== 0)) return;
    const decided = at + Math.min(age / 2, (2 + (number % 30)) * HOUR_MS);
    for (const [step, act] of actsOf(outcome, number % 37 === 0).entries()) {
      const incident = await manager.findOneByOrFail(IncidentEntity, { number });
      const when = new Date(decided + step * 45_000);
      await this.acts.apply(manager, incident, act, { by: analyst, at: when, reason: null });
    }
  }
}

const said = (act: 'answer-looked-for' | 'answer-all-right', yes: boolean): DeskAct => ({ act, yes });

/** The acts that lead to an outcome; `disagreed` where another analyst had decided otherwise before. */
function actsOf(outcome: DemoOutcome, disagreed: boolean): DeskAct[] {
  const before: DeskAct[] = disagreed
    ? [said('answer-all-right', outcome !== 'allowed'), { act: 'reopen' }]
    : [];
  switch (outcome) {
    case 'false-positive':
      return [...before, said('answer-looked-for', false)];
    case 'allowed':
      return [...before, said('answer-all-right', true)];
    case 'harm-slip':
    case 'harm-ignorance':
    case 'harm-intent':
      return [
        ...before,
        said('answer-all-right', false),
        {
          act: 'name-cause',
          cause: outcome === 'harm-slip' ? 'slip' : outcome === 'harm-intent' ? 'intent' : 'ignorance',
        },
      ];
  }
}
