import { randomUUID } from 'node:crypto';
import type { DocumentDetail, DocumentSummary, SaveDocumentRequest } from '@lantern/contracts';
import {
  type Effect,
  type Handler,
  labelOfForeign,
  mayDo,
  type Offered,
  offeredTo,
  printedMarks,
} from '@lantern/core/labels';
import { NO_FILE_LABELS } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { LabelChangesService } from '../../labels/label-changes.service.js';
import { labelStep, type LabelStep } from '../../labels/label-step.js';
import { labelById, labelsOf } from '../../published/published-labels.js';
import { DocumentEntity } from './document.entity.js';
import { namedPeople } from './document-drafts.js';
import { DocumentFiles } from './document-files.service.js';
import { DocumentMovements } from './document-movements.service.js';
import { labelRefusal } from '../../movements/notice/label-refusal.js';
import { FileWork } from '../../inspection/file-work.service.js';
import { carried, handledItem, leavesOf } from '../../labels/carried-label.js';
import { DocumentRules, type Step } from './document-rules.service.js';

/** The document stand-in: real files with real labels, and what each person may do with them. */
@Injectable()
export class DocumentWindow {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly published: PublishedRevision,
    private readonly changes: LabelChangesService,
    private readonly live: LiveEvents,
    private readonly files: DocumentFiles,
    private readonly rules: DocumentRules,
    private readonly work: FileWork,
    private readonly movements: DocumentMovements,
  ) {}

  /** Documents of a person's own, and those somebody shared with them. */
  async list(personId: string): Promise<DocumentSummary[]> {
    const person = await this.people.getPerson(personId);
    const found = await this.manager
      .createQueryBuilder(DocumentEntity, 'd')
      .select(['d.id', 'd.ownerId', 'd.ownerAddress', 'd.name', 'd.label', 'd.updatedAt'])
      .where('d.ownerId = :id OR JSON_CONTAINS(d.sharedWith, :address)', {
        id: personId,
        address: JSON.stringify(person.address),
      })
      .orderBy('d.updatedAt', 'DESC')
      .take(500)
      .getMany();
    const names = await this.namesOf(found.map(({ ownerAddress }) => ownerAddress));
    return found.map((document) => this.toSummary(document, person, names));
  }

  async get(personId: string, id: string): Promise<DocumentDetail> {
    const person = await this.people.getPerson(personId);
    const document = await this.find(id, person);
    const set = this.labels();
    const handler = await this.handler(person);
    const leaves = leavesOf(document, handler, set, Date.now());
    const mayRead = leaves.some(({ effect, allowed }) => effect === 'read' && allowed);
    const bytes = mayRead ? await this.files.open(document) : null;
    const read = bytes && (await this.work.paragraphs(bytes));
    const paragraphs = read?.status === 'read' ? read.paragraphs : [];
    const label = labelById(set, document.label?.id);
    const names = await this.namesOf([document.ownerAddress]);
    const [found] = bytes ? await this.work.labels([{ name: document.name, bytes }]) : [];
    const foreign = found?.foreign ?? [];
    return {
      ...this.toSummary(document, person, names),
      version: document.version,
      paragraphs,
      marks:
        document.label && label
          ? printedMarks(label, {
              owner: document.ownerAddress,
              setter: document.label.by,
              at: Date.parse(document.label.at),
              how: document.label.how,
            })
          : [],
      leaves,
      named: mayRead ? document.named : {},
      sharedWith: document.sharedWith,
      shares: mayRead ? await this.movements.views(id) : [],
      suggestion: mayRead ? await this.rules.suggest(paragraphs.join('\n'), document) : null,
      waiting: document.waiting && {
        label: labelById(set, document.waiting.label)?.name ?? null,
        reason: document.waiting.reason,
      },
      foreign: foreign.map((each) => ({
        ...each,
        label: labelOfForeign(set.labels, each.field, each.value)?.name ?? null,
      })),
      changes: await this.changes.ofItem(id),
    };
  }

  async save(id: string | null, request: SaveDocumentRequest): Promise<DocumentDetail> {
    const person = await this.people.getPerson(request.person);
    const old = id === null ? null : await this.find(id, person);
    const mine = old === null || old.ownerId === person.id;
    if (old && !mine) await this.movements.use(old, person, 'change');
    const set = this.labels();
    const step = labelStep(request, old, set, this.offered(person));
    const bytes = await this.files.written(old, request.paragraphs);
    const wanted = addresses(request.sharedWith);
    const before = old?.sharedWith ?? [];
    const document = this.manager.create(DocumentEntity, {
      ...(old ?? {
        id: randomUUID(),
        ownerId: person.id,
        ownerAddress: person.address,
        label: null,
        waiting: null,
        createdAt: new Date(),
      }),
      name: request.name.trim(),
      // Whom its setter named, and whom its owner took out, is theirs: others who write in it change neither.
      named: request.named && mine ? namedPeople(request.named) : (old?.named ?? {}),
      sharedWith: mine ? before.filter((address) => wanted.includes(address)) : before,
      version: (old?.version ?? 0) + 1,
      updatedAt: new Date(),
    });
    this.place(document, step, { person, reason: request.reason ?? '' });
    const automatic = await this.rules.automatic(document, request.paragraphs.join('\n'));
    document.sealed = await this.files.sealed(document, bytes);
    await this.keep(document, old && { version: request.version ?? old.version }, [
      {
        before: step.before,
        after: step.waits ? step.before : step.after,
        by: person.address,
        how: 'by-hand',
        reason: request.reason ?? '',
      },
      ...(automatic ? [automatic] : []),
    ]);
    await this.movements.follow(document, person);
    const added = wanted.filter((address) => !before.includes(address) && address !== document.ownerAddress);
    await this.movements.share(document, person, added);
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(person.id, document.id);
  }

  /** Takes a real file in. A label of ours in it stays, as inherited; one of another maker is shown and mapped. */
  async take(personId: string, name: string, bytes: Uint8Array): Promise<DocumentDetail> {
    const person = await this.people.getPerson(personId);
    const read = await this.work.paragraphs(bytes);
    if (read.status === 'refused')
      throw new AppError(
        'file-refused',
        `"${name}" cannot be opened here (${read.reason}). Nothing was imported. The file is unchanged.`,
        {
          details: { reason: read.reason },
        },
      );
    const set = this.labels();
    const [found = NO_FILE_LABELS] = await this.work.labels([{ name, bytes }]);
    const mapped = found.foreign
      .map((each) => labelOfForeign(set.labels, each.field, each.value))
      .find((each) => each !== null);
    const label = labelById(set, found.own?.id) ?? mapped ?? null;
    const at = new Date();
    const document = this.manager.create(DocumentEntity, {
      id: randomUUID(),
      ownerId: person.id,
      ownerAddress: person.address,
      name,
      label: label && carried(label, 'inherited', found.own?.setBy || person.address, at),
      named: {},
      sharedWith: [],
      waiting: null,
      version: 1,
      createdAt: at,
      updatedAt: at,
    });
    const automatic = await this.rules.automatic(document, read.paragraphs.join('\n'));
    document.sealed = await this.files.sealed(document, bytes);
    await this.manager.transaction(async (manager) => {
      await manager.save(document);
      await this.rules.record(manager, document, {
        before: null,
        after: label,
        by: person.address,
        how: 'inherited',
        reason: '',
      });
      if (automatic) await this.rules.record(manager, document, automatic);
    });
    return this.get(person.id, document.id);
  }

  /** The real file: whoever takes it makes another one. */
  async file(personId: string, id: string): Promise<{ name: string; bytes: Uint8Array }> {
    const person = await this.people.getPerson(personId);
    const document = await this.find(id, person);
    await this.movements.use(document, person, 'make-another');
    return { name: document.name, bytes: await this.files.open(document) };
  }

  /** Tries something with a document: it is done, or refused with what stands against it, and recorded either way. */
  async attempt(
    personId: string,
    id: string,
    effect: Effect,
    to: string | undefined,
  ): Promise<DocumentDetail> {
    const person = await this.people.getPerson(personId);
    const document = await this.find(id, person);
    if (effect === 'pass-on') {
      const [address] = addresses([to ?? '']);
      if (!address)
        throw new AppError('bad-address', 'Enter the people to forward it to.', { details: { address: '' } });
      await this.movements.passOn(document, person, address);
      return this.get(personId, id);
    }
    await this.movements.use(document, person, effect);
    return effect === 'make-another' ? this.copy(document, person) : this.get(personId, id);
  }

  /** Another document with the same content, label and owner: whoever copies does not come to own it by that. */
  private async copy(document: DocumentEntity, person: PersonEntity): Promise<DocumentDetail> {
    const at = new Date();
    const copy = this.manager.create(DocumentEntity, {
      ...document,
      id: randomUUID(),
      name: `Copy of ${document.name}`.slice(0, 200),
      sharedWith: document.ownerId === person.id ? [] : [person.address],
      waiting: null,
      version: 1,
      createdAt: at,
      updatedAt: at,
    });
    copy.sealed = await this.files.sealed(copy, await this.files.open(document));
    await this.manager.save(copy);
    return this.get(person.id, copy.id);
  }

  /** A second person agrees to a lower label, or does not. Nobody decides about their own wish. */
  async decideLowering(personId: string, id: string, agrees: boolean): Promise<DocumentDetail> {
    const person = await this.people.getPerson(personId);
    const document = await this.find(id, person);
    await this.allow('read', person, document);
    const { waiting } = document;
    if (!waiting) throw new AppError('act-refused', 'No request is open here.');
    if (waiting.by === person.address)
      throw new AppError('act-refused', 'Someone else must decide. You cannot agree to your own request.');
    const set = this.labels();
    const before = labelById(set, document.label?.id);
    const after = labelById(set, waiting.label);
    document.waiting = null;
    document.version += 1;
    document.updatedAt = new Date();
    if (agrees) {
      document.label = after && carried(after, 'by-hand', waiting.by, document.updatedAt);
      document.sealed = await this.files.sealed(document, await this.files.open(document));
    }
    await this.manager.transaction(async (manager) => {
      await manager.save(document);
      if (agrees)
        await this.rules.record(manager, document, {
          before,
          after,
          by: waiting.by,
          how: 'by-hand',
          reason: `${waiting.reason} (agreed by ${person.address})`,
        });
    });
    return this.get(personId, id);
  }

  /** Writes a document with what became of its label; `old` is the version that was edited. */
  private async keep(
    document: DocumentEntity,
    old: { readonly version: number } | null,
    steps: readonly Step[],
  ): Promise<void> {
    await this.manager.transaction(async (manager) => {
      if (old) {
        const locked = await manager.findOne(DocumentEntity, {
          where: { id: document.id },
          select: { id: true, version: true },
          lock: { mode: 'pessimistic_write' },
        });
        if (!locked || locked.version !== old.version)
          throw new AppError(
            'changed-meanwhile',
            'Someone saved this document in the meantime. Your version was not saved. Your text is still here.',
          );
      }
      await manager.save(document);
      for (const step of steps) await this.rules.record(manager, document, step);
    });
  }

  private place(
    document: DocumentEntity,
    step: LabelStep,
    { person, reason }: { person: PersonEntity; reason: string },
  ): void {
    if (step.waits) {
      document.waiting = { label: step.after?.id ?? null, by: person.address, reason };
      return;
    }
    if (step.before?.id === step.after?.id) return;
    document.waiting = null;
    document.label = step.after && carried(step.after, 'by-hand', person.address, document.updatedAt);
  }

  private async allow(effect: Effect, person: PersonEntity, document: DocumentEntity): Promise<void> {
    const leave = mayDo(
      effect,
      await this.handler(person),
      handledItem(document, this.labels(), effect),
      Date.now(),
    );
    if (leave.allowed) return;
    const label = { name: document.label?.name ?? '' };
    const { clause } = leave;
    const owner = document.ownerAddress;
    throw new AppError('label-forbids', labelRefusal({ label, effect, clause, owner }, 'en'), {
      details: { effect, clause: clause.code, label: label.name, owner },
    });
  }

  private async handler(person: PersonEntity): Promise<Handler> {
    const outside = await this.people.outsideTest();
    return { ...factsOf(person), outside: outside(person.address) };
  }

  private async find(id: string, person: PersonEntity): Promise<DocumentEntity> {
    const document = await this.manager.findOneBy(DocumentEntity, { id });
    if (!document || (document.ownerId !== person.id && !document.sharedWith.includes(person.address)))
      throw new AppError('not-found', 'This document does not exist, or it is not shared with this person.');
    return document;
  }

  private labels() {
    return labelsOf(this.published.current?.document);
  }

  private offered(person: PersonEntity): Offered | null {
    return offeredTo(this.labels(), factsOf(person), 'document', Date.now());
  }

  private async namesOf(owners: readonly string[]): Promise<Map<string, string>> {
    const found = await this.people.findByAddresses([...new Set(owners)]);
    return new Map(found.map(({ address, name }) => [address, name]));
  }

  private toSummary(
    document: DocumentEntity,
    person: PersonEntity,
    names: ReadonlyMap<string, string>,
  ): DocumentSummary {
    const { id, name, ownerAddress, label } = document;
    return {
      id,
      name,
      owner: { name: names.get(ownerAddress) ?? ownerAddress, address: ownerAddress },
      label: label && {
        id: label.id,
        name: label.name,
        colour: labelById(this.labels(), label.id)?.colour ?? '#5a6472',
      },
      mine: document.ownerId === person.id,
      updatedAt: document.updatedAt.toISOString(),
    };
  }
}

function addresses(given: readonly string[]): string[] {
  return [...new Set(given.map((each) => each.trim().toLowerCase()).filter((each) => each.includes('@')))];
}
