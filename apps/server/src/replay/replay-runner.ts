import { RevisionsService } from '../revisions/revisions.service.js';
import { join } from 'node:path';
import { type OwnPattern } from '@lantern/core/detection';
import { type PersonFacts } from '@lantern/core/directory';
import { type Outcome } from '@lantern/core/incidents';
import { ReplayTally } from '@lantern/core/insight';
import { type Channel } from '@lantern/core/movement';
import { type PolicySet, windowsAsked } from '@lantern/core/policy';
import { bytesOnDisk } from '@lantern/files';
import { ProcessPool } from '@lantern/processes';
import { slices } from '@lantern/core/shared';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { IncidentEntity, MovementEntity } from '../incidents/incident.entity.js';
import { JournalEntity } from '../journal/journal.entity.js';
import { DocumentSources } from '../inspection/sources/document-sources.js';
import { RecordSources } from '../inspection/sources/record-sources.js';
import { CONFIG, type Config } from '../platform/config.js';
import { movementKeys } from '../platform/keys/movement-keys.js';
import { labelsOf } from '../published/published-labels.js';
import { PlacesService } from '../labels/runs/places.service.js';
import { factsOf, PeopleService } from '../directory/people.service.js';
import { NOTHING } from '../revisions/changes.js';
import { type RevisionDocument, setOf } from '../published/revision.entity.js';
import { PublishedRevision } from '../published/published-revision.js';
import { mustDetect } from './changed-patterns.js';
import { PastAmounts } from '../movements/past/past-amounts.service.js';
import { compiled } from '../platform/processes/compiled.js';
import type { ReplayFigures } from './replay.entity.js';
import type { ReplayData } from './replay-sides.js';
import type { ReplayedRow, ReplayRow } from './replay-tasks.js';
import type { StoredItem } from './stored-tasks.js';

/** Rows read and judged together: enough to keep the workers busy, little enough to hold in memory with content. */
const ROWS_AT_ONCE = 400;
/** Rows one call of a worker takes. */
const ROWS_A_CALL = 100;
/** Stored files read and judged together, whole in memory. */
const STORED_AT_ONCE = 8;
/** A stored file that takes longer counts as not judged. */
const STORED_WITHIN_MS = 30_000;
const NOT_JUDGED = { before: null, after: null };
/** Progress is written down and told this often. */
const PROGRESS_MS = 700;
const HEAP_MEGABYTES = 1_024;
const RESIDENT_MEGABYTES = 1_800;
const PROCESSES = 2;
/** Rows of one call that take longer count as not judged. */
const ROWS_WITHIN_MS = 120_000;

interface Watch {
  /** Ends at once what is being judged. */
  readonly signal: AbortSignal;
  isStopped(): boolean;
  progress(figures: ReplayFigures): Promise<void>;
}

/** Judges the journal of a period by what is published and by the drafts, in worker threads. */
@Injectable()
export class ReplayRunner {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,

    private readonly published: PublishedRevision,
    private readonly revisions: RevisionsService,
    private readonly records: RecordSources,
    private readonly documents: DocumentSources,
    private readonly places: PlacesService,
    private readonly people: PeopleService,
    private readonly past: PastAmounts,
  ) {}

  async run(
    { since, until, unlimited }: { since: Date; until: Date; unlimited: string | undefined },
    watch: Watch,
  ): Promise<ReplayFigures> {
    const before = this.published.current?.document ?? NOTHING;
    const after = withoutCeilings(await this.revisions.document(), unlimited);
    const pool = this.poolOf('./replay-tasks.js', { before, after });
    const count = new Count({ ...namesOf(before), ...namesOf(after) });
    const ids = await this.idsOf(since, until);
    count.total = ids.length;
    const detection = this.detection(before, after);
    const windows = windowsAsked({ policies: [...before.policies, ...after.policies] });
    try {
      for (const page of slices(ids, ROWS_AT_ONCE)) {
        if (watch.isStopped()) break;
        const rows = await this.rowsOf(page);
        const keyOf = await movementKeys(this.manager, this.config.keys, page);
        const past = windows.length > 0 ? await this.past.before(page, windows) : null;
        const tasks = await this.withTexts(
          await Promise.all(
            rows.map(async (row) => ({
              ...{ key: keyOf(row.movementId), past: past?.get(row.movementId) },
              ...(await detection(row)),
            })),
          ),
        );
        const replayed = await Promise.all(
          slices(tasks, ROWS_A_CALL).map((slice) => replayRows(pool, slice, watch.signal)),
        );
        // What a stop cut off was not judged by anything.
        if (watch.isStopped()) break;
        await this.count(rows, tasks, replayed.flat(), count);
        if (count.isDue()) await watch.progress(count.figures());
      }
    } finally {
      pool.destroy();
    }
    return count.figures();
  }

  /** Files of all places, as they would be if each were opened to somebody outside. */
  async runStored(unlimited: string | undefined, watch: Watch): Promise<ReplayFigures> {
    const before = this.published.current?.document ?? NOTHING;
    const after = withoutCeilings(await this.revisions.document(), unlimited);
    const count = new Count({ ...namesOf(before), ...namesOf(after) });
    const pool = this.poolOf('./stored-tasks.js', { before, after });
    const at = Date.now();
    try {
      const all = await this.storedFiles();
      count.total = all.length;
      for (const page of slices(all, STORED_AT_ONCE)) {
        if (watch.isStopped()) break;
        const judged = await Promise.all(
          page.map((file) => this.judgeStored(pool, file, { at, signal: watch.signal })),
        );
        if (watch.isStopped()) break;
        judged.forEach((result, index) => {
          const id = page[index]?.id ?? '';
          const person = page[index]?.owner.address ?? '';
          const beside = { detected: false, outcome: null, person, department: result?.department ?? '' };
          count.add({ id, channel: 'drive', at: new Date(at) }, result ?? NOT_JUDGED, beside);
        });
        if (count.isDue()) await watch.progress(count.figures());
      }
    } finally {
      pool.destroy();
    }
    return count.figures();
  }

  private async storedFiles(): Promise<{ id: string; path: string; owner: PersonFacts }[]> {
    const places = await this.places.find([]);
    const owners = new Map(
      (await this.people.findByAddresses(places.map(({ owner }) => owner))).map((each) => [
        each.address,
        each,
      ]),
    );
    const found = await Promise.all(
      places.map(async (place) => {
        const person = owners.get(place.owner);
        const owner = person ? factsOf(person) : { address: place.owner };
        return (await this.places.filesOf(place)).map(({ path }) => ({
          id: `/${place.name}/${path}`,
          path: join(this.places.folderOf(place), path),
          owner,
        }));
      }),
    );
    return found.flat();
  }

  /** Null for a file that went meanwhile, or that cannot be read to its end. */
  private async judgeStored(
    pool: ProcessPool,
    { id, path, owner }: { id: string; path: string; owner: PersonFacts },
    { at, signal }: { readonly at: number; readonly signal: AbortSignal },
  ): Promise<ReplayedRow | null> {
    const bytes = await bytesOnDisk(path).catch(() => null);
    if (!bytes) return null;
    const item: StoredItem = { id, bytes, owner, at };
    const outcome = await pool.run<ReplayedRow>('judge', item, { signal, timeoutMs: STORED_WITHIN_MS });
    return outcome.status === 'done' ? outcome.value : null;
  }

  private poolOf(
    tasks: string,
    { before, after }: { before: RevisionDocument; after: RevisionDocument },
  ): ProcessPool {
    const side = (document: RevisionDocument): ReplayData['before'] => ({
      set: setOf(document),
      own: document.patterns,
      labels: labelsOf(document),
    });
    const data: ReplayData = {
      before: side(before),
      after: side(after),
      records: this.records.all(),
      documents: this.documents.all(),
    };
    return new ProcessPool({
      module: compiled(tasks, import.meta.url),
      data,
      processes: PROCESSES,
      // Both stay while it runs: one that is let go between two pages compiles everything anew.
      keep: PROCESSES,
      heapMegabytes: HEAP_MEGABYTES,
      residentMegabytes: RESIDENT_MEGABYTES,
      timeoutMs: ROWS_WITHIN_MS,
    });
  }

  /** The period in order, by ids alone: an index holds them, so that no page sorts rows with their contents. */
  private async idsOf(since: Date, until: Date): Promise<string[]> {
    const found = await this.manager
      .createQueryBuilder(JournalEntity, 'j')
      .select('j.movementId', 'id')
      .where('j.at >= :since AND j.at < :until', { since, until })
      .orderBy('j.at', 'ASC')
      .addOrderBy('j.movementId', 'ASC')
      .getRawMany<{ id: string }>();
    return found.map(({ id }) => id);
  }

  /** Rows of some ids in their order; what was let go meanwhile is not among them. */
  private async rowsOf(ids: readonly string[]): Promise<JournalEntity[]> {
    const found = await this.manager.findBy(JournalEntity, { movementId: In([...ids]) });
    const rows = new Map(found.map((row) => [row.movementId, row]));
    return ids.flatMap((id) => rows.get(id) ?? []);
  }

  /** Texts are read for those rows alone that are looked at again. */
  private async withTexts(tasks: readonly ReplayRow[]): Promise<ReplayRow[]> {
    const ids = tasks.filter((task) => task.detectBefore || task.detectAfter).map(({ id }) => id);
    if (ids.length === 0) return [...tasks];
    const found = await this.manager.find(JournalEntity, {
      where: { movementId: In(ids) },
      select: { movementId: true, sealedTexts: true },
    });
    const texts = new Map(found.map(({ movementId, sealedTexts }) => [movementId, sealedTexts ?? null]));
    return tasks.map((task) => ({ ...task, sealedTexts: texts.get(task.id) ?? null }));
  }

  /** Which sides must look at a row's texts again; asked once a revision. */
  private detection(
    before: RevisionDocument,
    after: RevisionDocument,
  ): (row: JournalEntity) => Promise<Omit<ReplayRow, 'key' | 'past'>> {
    const known = new Map<number | null, Promise<{ detectBefore: boolean; detectAfter: boolean }>>();
    const ask = async (revision: number | null) => {
      const made: readonly OwnPattern[] =
        revision === null ? [] : (await this.published.get(revision)).document.patterns;
      return {
        detectBefore: mustDetect(made, before.patterns, setOf(before), labelsOf(before)),
        detectAfter: mustDetect(made, after.patterns, setOf(after), labelsOf(after)),
      };
    };
    return async (row) => {
      const asked = known.get(row.revision) ?? ask(row.revision);
      known.set(row.revision, asked);
      return { id: row.movementId, sealed: row.sealed, sealedTexts: null, ...(await asked) };
    };
  }

  private async count(
    rows: readonly JournalEntity[],
    tasks: readonly ReplayRow[],
    replayed: readonly ReplayedRow[],
    count: Count,
  ): Promise<void> {
    const ids = rows.map(({ movementId }) => movementId);
    const outcomes = new Map(
      (
        await this.manager.find(IncidentEntity, {
          where: { movementId: In(ids) },
          select: { number: true, movementId: true, outcome: true },
        })
      ).map((each) => [each.movementId, each.outcome]),
    );
    const people = new Map(
      (
        await this.manager.find(MovementEntity, {
          where: { id: In(ids) },
          select: { id: true, personAddress: true, department: true },
        })
      ).map((each) => [each.id, each]),
    );
    replayed.forEach((result, index) => {
      const row = rows[index];
      const task = tasks[index];
      if (!row || !task) return;
      const person = people.get(row.movementId);
      count.add({ id: row.movementId, channel: row.channel, at: row.at }, result, {
        detected: task.detectBefore || task.detectAfter,
        outcome: outcomes.get(row.movementId) ?? null,
        person: person?.personAddress ?? '',
        department: person?.department ?? result.department,
      });
    });
  }
}

interface Beside {
  readonly detected: boolean;
  readonly outcome: Outcome | null;
  readonly person: string;
  readonly department: string;
}

/** Figures while a replay runs. */
class Count {
  total = 0;
  private done = 0;
  private detectedAgain = 0;
  private notJudged = 0;
  private readonly tally = new ReplayTally();
  private readonly began = Date.now();
  private told = Date.now();

  constructor(private readonly rules: Readonly<Record<string, string>>) {}

  add(
    row: { readonly id: string; readonly channel: Channel; readonly at: Date },
    { before, after }: Pick<ReplayedRow, 'before' | 'after'>,
    beside: Beside,
  ): void {
    this.done += 1;
    if (!before || !after) {
      this.notJudged += 1;
      return;
    }
    if (beside.detected) this.detectedAgain += 1;
    this.tally.add({
      id: row.id,
      channel: row.channel,
      department: beside.department,
      person: beside.person,
      day: row.at.toISOString().slice(0, 10),
      outcome: beside.outcome,
      before,
      after,
    });
  }

  isDue(): boolean {
    if (Date.now() - this.told < PROGRESS_MS) return false;
    this.told = Date.now();
    return true;
  }

  figures(): ReplayFigures {
    return {
      total: this.total,
      judged: this.done,
      detectedAgain: this.detectedAgain,
      notJudged: this.notJudged,
      seconds: (Date.now() - this.began) / 1_000,
      difference: this.tally.difference(),
      rules: this.rules,
    };
  }
}

/** The drafts, with one policy as it would be if no ceiling cut it. */
function withoutCeilings(document: RevisionDocument, policy: string | undefined): RevisionDocument {
  if (policy === undefined) return document;
  const policies = document.policies.map((each) => (each.id === policy ? { ...each, ceilings: [] } : each));
  return { ...document, policies };
}

function namesOf({ policies }: PolicySet): Record<string, string> {
  return Object.fromEntries(
    policies.flatMap(({ name, rules }) =>
      rules.map((rule, index) => [
        rule.id,
        `${name.trim() || 'Policy without a name'}, rule ${index + 1}${rule.name && !rule.silence ? `: ${rule.name}` : ''}`,
      ]),
    ),
  );
}

/** Some rows; where their process ends with one of them, each alone, so that only that one is not judged. */
async function replayRows(
  pool: ProcessPool,
  rows: readonly ReplayRow[],
  signal: AbortSignal,
): Promise<ReplayedRow[]> {
  const outcome = await pool.run<ReplayedRow[]>('replay', rows, { signal });
  if (outcome.status === 'done') return outcome.value;
  if (rows.length === 1 || outcome.reason === 'stopped')
    return rows.map(({ id }) => ({ id, ...NOT_JUDGED, department: '' }));
  const replayed: ReplayedRow[] = [];
  for (const row of rows) replayed.push(...(await replayRows(pool, [row], signal)));
  return replayed;
}
