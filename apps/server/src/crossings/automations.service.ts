import type {
  AutomationGapsView,
  AutomationKept,
  AutomationSummary,
  AutomationView,
  BreachesView,
  BreachRow,
  Crossings,
  JudgedBy,
} from '@lantern/contracts/crossings';
import {
  type AnyAutomation,
  automationGaps,
  type AutomationVerdict,
  BreachBook,
  judgeAutomation,
  type Register,
} from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { crossingsOf } from '../published/published-crossings.js';
import { stable } from '../published/draft-state.js';
import { labelsOf } from '../published/published-labels.js';
import { PublishedRevision } from '../published/published-revision.js';
import { CrossingDrafts } from './crossing-drafts.service.js';
import { AutomationEntity } from './crossing.entity.js';

/** Rows of breaches that a window shows; an export gives all. */
const MOST_ROWS = 500;
const ROWS_AT_ONCE = 500;
const COUNTED_MS = 5_000;
/** Automations that are kept; an organisation with more hands in what changed. */
const MOST_AUTOMATIONS = 200_000;

interface Basis {
  readonly crossings: Crossings;
  readonly labels: readonly { readonly id: string; readonly name: string; readonly rank: number }[];
  /** Labels that places carry now, by name. */
  readonly places: PlaceLabels;
}

export type PlaceLabels = ReadonlyMap<string, string | null>;

interface Book {
  readonly key: string;
  readonly basis: Basis;
  readonly book: BreachBook;
  readonly versions: Map<string, number>;
}

/** Flows and assistants: each is judged as it is saved or handed in, and one in breach is kept but never runs. */
@Injectable()
export class Automations {
  private readonly books = new Map<JudgedBy, Book>();
  private counted = { at: 0, value: Promise.resolve(0) };
  private placeLabels: () => Promise<PlaceLabels> = () => Promise.resolve(new Map());

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly drafts: CrossingDrafts,
    private readonly labels: LabelDraftsService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  /** Whoever knows places tells which labels they carry now: no document is believed about them. */
  placesToldBy(labels: () => Promise<PlaceLabels>): void {
    this.placeLabels = labels;
  }

  /** What the published sets, or the drafts, say about an automation that is not kept. */
  async judge(automation: AnyAutomation, by: JudgedBy): Promise<AutomationVerdict> {
    const basis = await this.basis(by);
    return judgeAutomation(automation, basis.crossings.sets, registerOf(basis));
  }

  /** Saves one; switched on only where what is published lets it run. */
  async keep(
    given: AnyAutomation,
    {
      isOn,
      version,
      by,
    }: { readonly isOn: boolean; readonly version?: number | undefined; readonly by: string },
  ): Promise<AutomationKept> {
    const now = new Date();
    const automation: AnyAutomation = {
      ...given,
      ...{ name: given.name.trim(), owner: given.owner.trim().toLowerCase(), madeAt: now.getTime() },
    };
    const known = await this.manager.findOneBy(AutomationEntity, { id: automation.id });
    if (!known && (await this.manager.count(AutomationEntity)) >= MOST_AUTOMATIONS)
      throw new AppError('too-many', 'There is no room for more automations. Nothing was kept.');
    if (known && version !== undefined && known.version !== version)
      throw new AppError(
        'changed-meanwhile',
        'Somebody saved this automation in the meantime. Your version was not saved.',
      );
    const verdict = await this.judge(automation, 'published');
    const row = {
      ...{
        kind: automation.kind,
        name: automation.name.slice(0, 120),
        owner: automation.owner,
      },
      ...{ workspace: automation.workspace, definition: automation, isOn: isOn && verdict.runs },
      ...{ version: (known?.version ?? 0) + 1, madeAt: now, handedInBy: by },
    };
    if (!known) await this.manager.insert(AutomationEntity, { id: automation.id, ...row });
    else {
      const saved = await this.manager.update(
        AutomationEntity,
        { id: known.id, version: known.version },
        row,
      );
      if (!saved.affected)
        throw new AppError(
          'changed-meanwhile',
          'Somebody saved this automation in the meantime. Your version was not saved.',
        );
    }
    this.live.publish({ kind: 'automations-changed' });
    return { id: automation.id, isOn: row.isOn, version: row.version, verdict };
  }

  async remove(id: string): Promise<void> {
    const gone = await this.manager.delete(AutomationEntity, { id });
    if (!gone.affected) throw new AppError('not-found', 'This automation no longer exists.');
    this.live.publish({ kind: 'automations-changed' });
  }

  async get(id: string): Promise<AutomationView> {
    const row = await this.row(id);
    const verdict = await this.judge(row.definition, 'published');
    return { ...summaryOf(row, verdict), automation: row.definition, verdict, version: row.version };
  }

  async row(id: string): Promise<AutomationEntity> {
    const row = await this.manager.findOneBy(AutomationEntity, { id });
    if (!row) throw new AppError('not-found', 'This automation no longer exists.');
    return row;
  }

  /** All of them, by name, judged by what is published or by the drafts. */
  async list(by: JudgedBy): Promise<AutomationSummary[]> {
    const { book } = await this.bookOf(by);
    const rows = await this.manager.find(AutomationEntity, {
      order: { name: 'ASC' },
      select: {
        ...{ id: true, kind: true, name: true, owner: true, workspace: true },
        ...{ isOn: true, madeAt: true, version: true },
      },
    });
    return rows.flatMap((row) => {
      const verdict = book.verdictOf(row.id);
      return verdict ? [summaryOf(row, verdict)] : [];
    });
  }

  /** Switches off what runs and may no longer: after every publishing, before anybody is told. */
  async stopInBreach(): Promise<number> {
    const { book } = await this.bookOf('published');
    const running = await this.manager.find(AutomationEntity, {
      where: { isOn: true },
      select: { id: true },
    });
    const stopped = running.filter(({ id }) => book.verdictOf(id)?.runs === false).map(({ id }) => id);
    for (const id of stopped)
      await this.manager.update(AutomationEntity, { id, isOn: true }, { isOn: false });
    if (stopped.length > 0) this.live.publish({ kind: 'automations-changed' });
    return stopped.length;
  }

  /** What is in breach now, both sides of each conflict named. */
  async breaches(by: JudgedBy, search = '', most = MOST_ROWS): Promise<BreachesView> {
    const { book, basis } = await this.bookOf(by);
    const on = new Set(
      (await this.manager.find(AutomationEntity, { where: { isOn: true }, select: { id: true } })).map(
        ({ id }) => id,
      ),
    );
    const names = new Map(basis.crossings.services.map(({ id, name }) => [id, name.toLowerCase()]));
    const wanted = search.trim().toLowerCase();
    const rows: BreachRow[] = [];
    let [inBreach, wouldStop, isCut] = [0, 0, false];
    for (const { automation, verdict } of book.verdicts()) {
      if (!verdict.runs) inBreach += 1;
      if (!verdict.runs && on.has(automation.id)) wouldStop += 1;
      const { id, name, kind, owner, workspace } = automation;
      const text = [name, owner, ...automation.steps.map(({ service }) => names.get(service) ?? service)];
      if (wanted !== '' && !text.join('\n').toLowerCase().includes(wanted)) continue;
      const row = { automation: id, name, kind, owner, workspace, isOn: on.has(id) };
      for (const [all, older] of [
        [verdict.breaches, false],
        [verdict.older, true],
      ] as const)
        for (const breach of all) {
          if (rows.length < most) rows.push({ ...row, breach, older });
          else isCut = true;
        }
    }
    rows.sort((left, right) => left.name.localeCompare(right.name, 'en'));
    return { judged: book.size, inBreach, wouldStop, rows, isCut };
  }

  /** What nothing guards, by what is published or by the drafts, with what runs there. */
  async gaps(by: JudgedBy): Promise<AutomationGapsView> {
    const { book, basis } = await this.bookOf(by);
    const { services, workspaces, sets } = basis.crossings;
    const on = await this.manager.find(AutomationEntity, { where: { isOn: true }, select: { id: true } });
    const isOn = new Set(on.map(({ id }) => id));
    const running = [...book.verdicts()].flatMap(({ automation }) =>
      isOn.has(automation.id) ? [automation] : [],
    );
    const labels = basis.labels.map(({ id, rank }) => ({ id: String(id), rank }));
    const named = [...services, ...workspaces, ...sets, ...basis.labels];
    return {
      gaps: automationGaps(sets, { services, workspaces, labels, running }),
      names: Object.fromEntries(named.map(({ id, name }) => [String(id), name])),
    };
  }

  /** For the strip, which asks with every event: at most so many seconds old. */
  countInBreach(now = Date.now()): Promise<number> {
    if (now - this.counted.at < COUNTED_MS) return this.counted.value;
    const value = this.breaches('published', '', 0).then(({ inBreach }) => inBreach);
    this.counted = { at: now, value };
    value.catch(() => (this.counted = { at: 0, value: Promise.resolve(0) }));
    return value;
  }

  async basis(by: JudgedBy): Promise<Basis> {
    const places = await this.placeLabels();
    if (by === 'drafts')
      return { crossings: await this.drafts.all(), labels: (await this.labels.set()).labels, places };
    const document = this.published.current?.document;
    return { crossings: crossingsOf(document), labels: labelsOf(document).labels, places };
  }

  /** Kept between requests: what changed since is judged, and no more. */
  private async bookOf(by: JudgedBy): Promise<Book> {
    const basis = await this.basis(by);
    const labels = basis.labels.map(({ id, rank }) => [id, rank]);
    const key = stable([basis.crossings.services, labels, [...basis.places]]);
    const known = this.books.get(by);
    const book = known?.book ?? new BreachBook(registerOf(basis), basis.crossings.sets);
    if (known) book.change(basis.crossings.sets, ...(known.key === key ? [] : [registerOf(basis)]));
    const versions = known?.versions ?? new Map<string, number>();
    await this.refresh(book, versions);
    const next = { key, basis, book, versions };
    this.books.set(by, next);
    return next;
  }

  private async refresh(book: BreachBook, versions: Map<string, number>): Promise<void> {
    const rows = await this.manager.find(AutomationEntity, { select: { id: true, version: true } });
    const now = new Set(rows.map(({ id }) => id));
    for (const id of versions.keys())
      if (!now.has(id)) {
        versions.delete(id);
        book.drop(id);
      }
    const changed = rows.filter(({ id, version }) => versions.get(id) !== version);
    for (let from = 0; from < changed.length; from += ROWS_AT_ONCE) {
      const ids = changed.slice(from, from + ROWS_AT_ONCE).map(({ id }) => id);
      for (const row of await this.manager.findBy(AutomationEntity, { id: In(ids) })) {
        book.put(row.definition);
        versions.set(row.id, row.version);
      }
    }
  }
}

function registerOf({ crossings, labels, places }: Basis): Register {
  return {
    places,
    services: new Map(crossings.services.map((service) => [service.id, service])),
    labels: new Map(labels.map(({ id, name, rank }) => [String(id), { name, rank }])),
  };
}

function summaryOf(
  { id, name, kind, owner, workspace, isOn, madeAt }: Omit<AutomationEntity, 'definition' | 'handedInBy'>,
  verdict: AutomationVerdict,
): AutomationSummary {
  return {
    ...{ id, name, kind, owner, workspace, isOn, runs: verdict.runs },
    ...{ madeAt: madeAt.toISOString(), breaches: verdict.breaches.length, older: verdict.older.length },
  };
}
