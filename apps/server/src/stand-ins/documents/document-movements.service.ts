import { randomUUID } from 'node:crypto';
import type { DocumentDetail, IntakeVerdict } from '@lantern/contracts';
import type { Effect } from '@lantern/core/labels';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Inspection } from '../../inspection/inspection.service.js';
import { ownerForHandling } from '../../labels/carried-label.js';
import { LabelsAtWork } from '../../labels/labels-at-work.service.js';
import { labelById } from '../../published/published-labels.js';
import { MovementJudge } from '../../movements/judge.service.js';
import { Movements } from '../../movements/movements.service.js';
import { PersonAnswers, type SubmissionRef } from '../../movements/person-answers.service.js';
import { stateAfter, type Submission } from '../../movements/submission.js';
import { MachinesService } from '../../directory/machines/machines.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { DocumentEntity } from './document.entity.js';
import { DocumentFiles } from './document-files.service.js';
import { DocumentShareEntity } from './document-share.entity.js';

const SUBMITTER = 'documents';

type ShareState = DocumentShareEntity['state'];

/** What people do with documents of the stand-in, as movements: share, copy out of, take away, write over. */
@Injectable()
export class DocumentMovements implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly judge: MovementJudge,
    private readonly movements: Movements,
    private readonly answers: PersonAnswers,
    private readonly files: DocumentFiles,
    private readonly labels: LabelsAtWork,
    private readonly machines: MachinesService,
  ) {}

  onModuleInit(): void {
    this.movements.listen(SUBMITTER, async (manager, verdict) => {
      const share = await manager.findOneBy(DocumentShareEntity, { submissionId: verdict.id });
      if (!share) return;
      const document = await manager.findOneByOrFail(DocumentEntity, { id: share.documentId });
      const state = stateOf(verdict);
      await manager.update(
        DocumentShareEntity,
        { id: share.id },
        { state, notice: verdict.notice, grantedVersion: state === 'open' ? document.version : null },
      );
      if (state === 'open') await this.open(manager, document.id, share.address);
    });
  }

  /**
   * Does something with a document, or is refused: recorded either way. Throws a refusal that says which label or rule
   * stands against it.
   */
  async use(document: DocumentEntity, person: PersonEntity, effect: Effect): Promise<void> {
    const activity = effect === 'take-out' ? 'capture' : effect === 'change' ? 'write' : 'copy';
    const submission = await this.submissionOf(document, person, { activity, effects: [effect], to: [] });
    const { state, notice } = await this.movements.submit(
      { submitter: SUBMITTER, key: randomUUID() },
      submission,
    );
    if (state !== 'went-on') throw forbidden(document, notice);
  }

  /** Passes on to somebody: the same as sharing, but a label that does not grant it is said at once. */
  async passOn(document: DocumentEntity, person: PersonEntity, address: string): Promise<void> {
    const [verdict] = await this.share(document, person, [address]);
    if (verdict?.state === 'refused' && verdict.notice?.label !== undefined)
      throw forbidden(document, verdict.notice);
  }

  /** Shares with people; each is judged on its own, and those it waits for or is refused for are listed with why. */
  async share(
    document: DocumentEntity,
    person: PersonEntity,
    addresses: readonly string[],
  ): Promise<IntakeVerdict[]> {
    const verdicts: IntakeVerdict[] = [];
    let read: Inspection | undefined;
    for (const address of addresses) {
      const submission = await this.submissionOf(document, person, {
        activity: 'share',
        effects: ['pass-on'],
        to: [address],
      });
      read ??= await this.judge.read(submission);
      const judged = await this.judge.judgeRead(submission, read);
      const by = { submitter: SUBMITTER, key: randomUUID() };
      const verdict = await this.movements.submitJudged(by, submission, judged, {
        apply: (manager, decided) => this.keep(manager, { document, person, address, verdict: decided }),
      });
      verdicts.push(verdict);
    }
    return verdicts;
  }

  /** After a document was changed: who may no longer have it as it now is loses it, and that is recorded. */
  async follow(document: DocumentEntity, person: PersonEntity): Promise<void> {
    const shares = await this.of(document.id);
    const granted = new Set(
      shares
        .filter(({ grantedVersion }) => grantedVersion === document.version)
        .map(({ address }) => address),
    );
    let read: Inspection | undefined;
    for (const address of document.sharedWith) {
      if (granted.has(address)) continue;
      const submission = await this.submissionOf(document, person, {
        activity: 'share',
        effects: ['pass-on'],
        to: [address],
      });
      read ??= await this.judge.read(submission);
      const judged = await this.judge.judgeRead(submission, read);
      if (stateAfter(judged.verdict) !== 'refused') continue;
      await this.movements.submitJudged({ submitter: SUBMITTER, key: randomUUID() }, submission, judged, {
        apply: async (manager, verdict) => {
          await this.close(manager, document.id, address);
          await this.keep(manager, { document, person, address, verdict }, 'withdrawn');
        },
      });
    }
  }

  of(documentId: string): Promise<DocumentShareEntity[]> {
    return this.manager.find(DocumentShareEntity, { where: { documentId }, order: { address: 'ASC' } });
  }

  /** Shares that are not simply open, for whoever shared them. */
  async views(documentId: string): Promise<DocumentDetail['shares']> {
    return (await this.of(documentId))
      .filter(({ state }) => state !== 'open')
      .map(({ id, address, state, notice, reported }) => ({ id, address, state, notice, reported }));
  }

  async reply(
    id: string,
    person: PersonEntity,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    await this.answers.reply(await this.refOf(id, person), reply);
  }

  async askOverride(id: string, person: PersonEntity, words: string): Promise<void> {
    await this.answers.askOverride(await this.refOf(id, person), words);
  }

  async report(id: string, person: PersonEntity, words: string): Promise<void> {
    await this.answers.report(await this.refOf(id, person), words, (manager) =>
      manager.update(DocumentShareEntity, { id }, { reported: true }),
    );
  }

  private async refOf(id: string, person: PersonEntity): Promise<SubmissionRef> {
    const share = await this.manager.findOneBy(DocumentShareEntity, { id, by: person.id });
    if (!share) throw new AppError('not-found', 'This share no longer exists, or someone else made it.');
    return { submitter: SUBMITTER, id: share.submissionId };
  }

  private async keep(
    manager: EntityManager,
    {
      document,
      person,
      address,
      verdict,
    }: {
      readonly document: DocumentEntity;
      readonly person: PersonEntity;
      readonly address: string;
      readonly verdict: IntakeVerdict;
    },
    state: ShareState = stateOf(verdict),
  ): Promise<void> {
    const known = await manager.findOneBy(DocumentShareEntity, { documentId: document.id, address });
    await manager.save(DocumentShareEntity, {
      id: known?.id ?? randomUUID(),
      documentId: document.id,
      address,
      by: person.id,
      state,
      grantedVersion: null,
      notice: verdict.notice,
      submissionId: verdict.id,
      reported: false,
    });
    if (state === 'open') await this.open(manager, document.id, address);
  }

  private async open(manager: EntityManager, id: string, address: string): Promise<void> {
    const document = await locked(manager, id);
    const sharedWith = [...new Set([...document.sharedWith, address])];
    await manager.update(DocumentEntity, { id }, { sharedWith });
  }

  private async close(manager: EntityManager, id: string, address: string): Promise<void> {
    const document = await locked(manager, id);
    const sharedWith = document.sharedWith.filter((each) => each !== address);
    await manager.update(DocumentEntity, { id }, { sharedWith });
  }

  private async submissionOf(
    document: DocumentEntity,
    person: PersonEntity,
    what: Pick<Submission, 'activity' | 'effects' | 'to'>,
  ): Promise<Submission> {
    const { label, name, ownerAddress, named, createdAt } = document;
    const owner = ownerForHandling(label, ownerAddress);
    const known = labelById(this.labels.set, label?.id);
    const since = Date.parse(label?.at ?? '') || 0;
    const machine = await this.machines.ofPerson(person.address);
    return {
      channel: 'drive',
      ...what,
      person,
      at: new Date(),
      texts: [],
      files: [{ name, bytes: await this.files.open(document) }],
      own: known && { label: known, how: label?.how ?? 'by-hand' },
      labels: label && !known ? [{ id: label.id, name: label.name }] : [],
      handles: label ? [{ label: label.id, item: name, owner, since, named }] : [],
      made: createdAt,
      from: [{ kind: 'place', path: `/Documents of ${ownerAddress}/${name}` }],
      connection: 'encrypted',
      ...(machine ? { machine } : {}),
    };
  }
}

function forbidden(document: DocumentEntity, notice: IntakeVerdict['notice']): AppError {
  return new AppError('label-forbids', notice?.text || 'A rule of the organisation does not allow this.', {
    details: { label: document.label?.name ?? '', owner: document.ownerAddress },
  });
}

async function locked(manager: EntityManager, id: string): Promise<DocumentEntity> {
  return manager.findOneOrFail(DocumentEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
}

function stateOf({ state }: Pick<IntakeVerdict, 'state'>): ShareState {
  if (state === 'went-on') return 'open';
  return state === 'waiting' ? 'waiting' : 'refused';
}
