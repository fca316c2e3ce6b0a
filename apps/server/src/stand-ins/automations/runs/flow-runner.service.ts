import { randomUUID } from 'node:crypto';
import type { FlowRunState, FlowRunView } from '@lantern/contracts/crossings';
import { type Flow, type FlowStep, runOrder } from '@lantern/core/automations';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { Automations } from '../../../crossings/automations.service.js';
import { PeopleService, type Player } from '../../../directory/people.service.js';
import { SubmissionEntity } from '../../../movements/submission.entity.js';
import { CONFIG, type Config } from '../../../platform/config.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { LiveEvents } from '../../../platform/live/live-events.js';
import { sealJson, unsealJson } from '../../../platform/sealing.js';
import { FlowRunEntity, type KeptStep } from './flow-run.entity.js';
import { type Carried, NOTHING, StepDoers } from './step-doers.service.js';

/** Runs of one flow that are listed. */
const LISTED = 20;
/** How often runs whose movement waits are looked at. */
const LOOK_EVERY_MS = 2_000;
/** Text and files that a step hands on at most: what a mail may hold. */
const MOST_CARRIED = 25 * 1024 * 1024;
const OPEN: readonly FlowRunState[] = ['running', 'waiting'];

type Outputs = Record<string, Carried>;

/** Runs flows step by step. What a step moves is a movement like any other: where it waits, the run waits with it. */
@Injectable()
export class FlowRunner implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger(FlowRunner.name);
  private readonly working = new Map<string, Promise<void>>();
  private timer: NodeJS.Timeout | undefined;
  private isEnding = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly automations: Automations,
    private readonly doers: StepDoers,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
  ) {}

  /** A run that was in the middle of a step ends there: nobody knows how far the step came, and it is not done twice. */
  async onApplicationBootstrap(): Promise<void> {
    for (const run of await this.manager.findBy(FlowRunEntity, { state: 'running' }))
      await this.end(run, 'stopped', run.steps, 'The server stopped in the middle of this run.');
    this.timer = setInterval(() => void this.look(), LOOK_EVERY_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    this.isEnding = true;
    clearInterval(this.timer);
    await Promise.all(this.working.values());
  }

  /** Starts a run of a flow that is switched on and may run now. One run of a flow at a time. */
  async start(automationId: string, player: Player): Promise<FlowRunView> {
    const { automation, isOn, verdict } = await this.automations.get(automationId);
    if (automation.kind !== 'flow')
      throw new AppError('act-refused', 'Only flows can be run. Nothing was run.');
    if (!isOn || !verdict.runs || !player.person)
      throw new AppError('act-refused', 'This flow is switched off. Switch it on first. Nothing was run.');
    const run: FlowRunEntity = {
      ...{ id: randomUUID(), automationId, player: player.person.id, startedAt: new Date(), endedAt: null },
      ...{ state: 'running', steps: [], stepsInAll: automation.steps.length },
    };
    // Of two who start it at once the second finds the first's.
    await this.manager.transaction(async (manager) => {
      await manager.query('SELECT id FROM automation WHERE id = ? FOR UPDATE', [automationId]);
      if (await manager.existsBy(FlowRunEntity, { automationId, state: In([...OPEN]) }))
        throw new AppError('act-refused', 'This flow is running already. Wait until that run is over.');
      await manager.insert(FlowRunEntity, run);
    });
    this.goOn(run, automation, {});
    return viewOf(run, null);
  }

  async list(automationId: string): Promise<FlowRunView[]> {
    const runs = await this.manager.find(FlowRunEntity, {
      where: { automationId },
      order: { startedAt: 'DESC' },
      take: LISTED,
    });
    const last = runs.flatMap(({ steps }) => steps.at(-1)?.submission ?? []);
    const submissions = await this.manager.findBy(SubmissionEntity, { id: In(last) });
    const open = new Map(
      submissions.map(({ id, state, notice }) => [id, state === 'went-on' ? null : notice]),
    );
    return runs.map((run) => viewOf(run, open.get(run.steps.at(-1)?.submission ?? '') ?? null));
  }

  /** The movement of the last step of a run, which its owner can answer about. */
  async submissionOf(automationId: string, id: string): Promise<string> {
    const run = await this.manager.findOneBy(FlowRunEntity, { id, automationId });
    const submission = run?.steps.at(-1)?.submission;
    if (!submission) throw new AppError('not-found', 'This run has no movement to answer about.');
    return submission;
  }

  /** Ends a run that waits: its movement stays where it is, and the steps behind it are not done. */
  async stop(automationId: string, id: string): Promise<void> {
    const run = await this.manager.findOneBy(FlowRunEntity, { id, automationId });
    if (run?.state !== 'waiting') throw new AppError('changed-meanwhile', 'This run is not waiting anymore.');
    await this.end(run, 'stopped', run.steps);
  }

  private goOn(run: FlowRunEntity, flow: Flow, outputs: Outputs): void {
    const work = this.steps(run, flow, outputs)
      .catch((error: unknown) => {
        this.log.error(`A flow could not go on: ${error instanceof Error ? error.name : 'unknown'}`);
        return this.end(run, 'stopped', run.steps, 'An error of the server ended this run.');
      })
      .catch(() => undefined)
      .finally(() => this.working.delete(run.id));
    this.working.set(run.id, work);
  }

  private async steps(run: FlowRunEntity, flow: Flow, outputs: Outputs): Promise<void> {
    const player = await this.people.player(run.player);
    let steps = run.steps;
    const reached = new Set(steps.map(({ step }) => step));
    for (const step of runOrder(flow.steps)) {
      if (reached.has(step.id)) continue;
      if (this.isEnding) return;
      const given = whatReaches(step, flow, outputs);
      if (sizeOf(given) > MOST_CARRIED) return this.end(run, 'stopped', steps, TOO_MUCH);
      const { gives, ...done } = await this.doers.do({ step, player, given, flow: flow.name });
      steps = [...steps, { step: step.id, name: step.name || step.id, ...done }];
      run.steps = steps;
      if (done.state === 'waiting') return this.wait(run, outputs);
      if (done.state !== 'done') return this.end(run, 'stopped', steps);
      outputs[step.id] = gives ?? NOTHING;
      await this.manager.update(FlowRunEntity, { id: run.id }, { steps });
      this.live.publish({ kind: 'automations-changed' });
    }
    await this.end(run, 'done', steps);
  }

  private async wait(run: FlowRunEntity, outputs: Outputs): Promise<void> {
    const carried = await sealJson(this.config.keys.installation, `flow run ${run.id}`, outputs);
    await this.manager.update(FlowRunEntity, { id: run.id }, { state: 'waiting', steps: run.steps, carried });
    this.live.publish({ kind: 'automations-changed' });
  }

  private async end(
    run: FlowRunEntity,
    state: FlowRunState,
    steps: readonly KeptStep[],
    why?: string,
  ): Promise<void> {
    const last: KeptStep[] =
      why === undefined
        ? []
        : [{ step: '', name: '', state: 'failed', words: why, submission: null, incident: null }];
    await this.manager.update(
      FlowRunEntity,
      { id: run.id },
      { state, steps: [...steps, ...last], endedAt: new Date(), carried: null },
    );
    this.live.publish({ kind: 'automations-changed' });
  }

  /** Goes on with runs whose movement was let go or refused meanwhile. */
  private async look(): Promise<void> {
    try {
      for (const run of await this.manager.findBy(FlowRunEntity, { state: 'waiting' }))
        if (!this.working.has(run.id)) await this.lookAt(run);
    } catch (error) {
      this.log.error(`Waiting flows could not be read: ${error instanceof Error ? error.name : 'unknown'}`);
    }
  }

  private async lookAt(run: FlowRunEntity): Promise<void> {
    const last = run.steps.at(-1);
    if (!last?.submission) return this.end(run, 'stopped', run.steps);
    const { state, words, incident } = await this.doers.outcome(last.submission, 'Allowed after a decision.');
    if (state === 'waiting') return;
    const steps = [...run.steps.slice(0, -1), { ...last, state, words, incident }];
    if (state !== 'done') return this.end(run, 'stopped', steps);
    const view = await this.automations.get(run.automationId).catch(() => null);
    if (view?.automation.kind !== 'flow' || !view.isOn)
      return this.end(run, 'stopped', steps, 'The flow was switched off while it waited.');
    const { carried } = await this.manager.findOneOrFail(FlowRunEntity, {
      where: { id: run.id },
      select: { id: true, carried: true },
    });
    const outputs = carried ? await this.opened(run.id, carried) : {};
    const player = await this.people.player(run.player);
    outputs[last.step] = await this.doers.gaveLater(last, player);
    const going = await this.manager.update(
      FlowRunEntity,
      { id: run.id, state: 'waiting' },
      { state: 'running', steps },
    );
    if (going.affected) this.goOn({ ...run, state: 'running', steps }, view.automation, outputs);
  }

  private async opened(id: string, carried: Buffer): Promise<Outputs> {
    return (await unsealJson(this.config.keys.installation, `flow run ${id}`, carried)) as Outputs;
  }
}

const TOO_MUCH = `This step would carry more than ${MOST_CARRIED / 1024 / 1024} MB. It was not run.`;

/** What all steps before it gave, each once, in the order in which they ran: what is read flows on to every step behind. */
function whatReaches({ id, after }: FlowStep, { steps }: Flow, outputs: Outputs): Carried {
  const byId = new Map(steps.map((step) => [step.id, step]));
  const before = new Set<string>();
  const open = [...after];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    if (before.has(next) || next === id) continue;
    before.add(next);
    open.push(...(byId.get(next)?.after ?? []));
  }
  const given = Object.entries(outputs).flatMap(([step, gave]) => (before.has(step) ? [gave] : []));
  return {
    from: [...new Set(given.flatMap(({ from }) => from))],
    text: given
      .map(({ text }) => text)
      .filter((text) => text !== '')
      .join('\n'),
    files: given.flatMap(({ files }) => files),
  };
}

const sizeOf = ({ text, files }: Carried): number =>
  text.length + files.reduce((sum, { base64 }) => sum + base64.length, 0);

function viewOf(
  { id, startedAt, endedAt, state, steps, stepsInAll }: FlowRunEntity,
  notice: FlowRunView['notice'],
): FlowRunView {
  return {
    notice,
    ...{ id, startedAt: startedAt.toISOString(), endedAt: endedAt?.toISOString() ?? null, state, stepsInAll },
    steps: steps.map(({ step, name, state: how, words, incident }) => ({
      ...{ step, name, state: how, words, incident },
    })),
  };
}
