import type {
  ItemAct,
  ItemDetail,
  ItemFacets,
  ItemHistoryEntry,
  ItemOrder,
  ItemPage,
  ItemRow,
  ItemsQuery,
  ReadExcerpt,
} from '@lantern/contracts/discovery';
import { MAX_ITEMS } from '@lantern/contracts/discovery';
import { changesBetween, ITEM_FIELD_TABLE, type ItemField } from '@lantern/core/discovery';
import { type Filter, parseFilterOver } from '@lantern/core/incidents';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { badFilter } from '../../incidents/queue/bad-filter.js';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { unsealJson } from '../../platform/sealing.js';
import { labelById } from '../../published/published-labels.js';
import { DiscoveryContext } from '../discovery-context.js';
import { DiscoveryNames } from '../discovery-names.service.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { ReaderEntity } from '../readers/reader.entity.js';
import { compileItems, ITEM_TABLES } from './compile-items.js';
import { FetchEntity } from './fetch.entity.js';
import { Fetches } from './fetches.service.js';
import { ItemIncidents } from './item-incidents.service.js';
import { ActEntity, ActItemEntity, ItemChangeEntity, ItemEntity, ItemEvidenceEntity } from './item.entity.js';
import { evidenceAt } from './knowledge.js';

/** Values of one facet that are listed. */
const FACET_VALUES = 12;
/** Places of the same bytes that are listed. */
const COPIES = 50;
const HISTORY = 50;

const ORDERS: Readonly<Record<ItemOrder, readonly [column: string, descends: boolean]>> = {
  holding: ['i.holding', true],
  path: ['i.path', false],
  bytes: ['i.bytes', true],
  changed: ["COALESCE(i.changedAt, '1000-01-01')", true],
  count: ['i.total', true],
};

const FACETS: Readonly<Record<string, string>> = {
  place: 'p.name',
  state: 'i.state',
  label: 'i.labelId',
  suggested: 'i.suggested',
  reach: 'i.reach',
  ending: 'i.ending',
  owner: 'i.owner',
  reason: 'i.reason',
};

/** What an act that was done is called in the history. */
const DONE_WORDS = {
  ...{ label: 'labelled', quarantine: 'quarantined', 'put-back': 'put-back', move: 'moved-over' },
} as const satisfies Readonly<Record<ItemAct, ItemHistoryEntry['what']>>;

/** What readers found, item by item. */
@Injectable()
export class Items {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly names: DiscoveryNames,
    private readonly context: DiscoveryContext,
    private readonly fetches: Fetches,
    private readonly incidents: ItemIncidents,
  ) {}

  /** Throws `bad-filter` where a line cannot be read. */
  readFilter(line: string): Filter<ItemField> {
    const parsed = parseFilterOver(ITEM_FIELD_TABLE, line);
    if (parsed.status === 'read') return parsed.filter;
    throw badFilter(parsed.fault);
  }

  /** A page in the order asked for; `after` is the `next` of the page before. */
  async page({ filter = '', order = 'holding', after }: ItemsQuery, most = MAX_ITEMS): Promise<ItemPage> {
    const where = compileItems(this.readFilter(filter), this.names, new Date());
    const [column, descends] = ORDERS[order];
    const from = after ? readMark(after) : null;
    const compare = descends ? '<' : '>';
    const mark = from ? ` AND (${column} ${compare} ? OR (${column} = ? AND i.id > ?))` : '';
    const rows = await this.manager.query<{ id: string; mark: unknown }[]>(
      `SELECT i.id AS id, ${column} AS mark FROM ${ITEM_TABLES} WHERE ${where.sql}${mark}
       ORDER BY ${column} ${descends ? 'DESC' : 'ASC'}, i.id LIMIT ${most + 1}`,
      [...where.values, ...(from ? [from.value, from.value, from.id] : [])],
    );
    const [count] = await this.manager.query<{ total: string }[]>(
      `SELECT COUNT(*) AS total FROM ${ITEM_TABLES} WHERE ${where.sql}`,
      [...where.values],
    );
    const shown = rows.slice(0, most);
    const last = shown.at(-1);
    return {
      items: await this.rows(shown.map(({ id }) => id)),
      total: Number(count?.total ?? 0),
      next: rows.length > most && last ? writeMark(last.mark, last.id) : null,
    };
  }

  async facets(line = ''): Promise<ItemFacets> {
    const where = compileItems(this.readFilter(line), this.names, new Date());
    const labels = this.context.labels();
    const found: Record<string, ItemFacets[string]> = {};
    for (const [field, column] of Object.entries(FACETS)) {
      const rows = await this.manager.query<{ value: string; count: string }[]>(
        `SELECT ${column} AS value, COUNT(*) AS count FROM ${ITEM_TABLES}
         WHERE ${where.sql} AND ${column} IS NOT NULL AND ${column} <> ''
         GROUP BY ${column} ORDER BY count DESC LIMIT ${FACET_VALUES}`,
        [...where.values],
      );
      found[field] = rows.map(({ value, count }) => ({
        ...{ value, name: labelById(labels, value)?.name ?? value, count: Number(count) },
      }));
    }
    const patterns = await this.manager.query<{ value: string; count: string }[]>(
      `SELECT f.pattern AS value, COUNT(*) AS count FROM ${ITEM_TABLES} JOIN discovery_found f ON f.itemId = i.id
       WHERE ${where.sql} GROUP BY f.pattern ORDER BY count DESC LIMIT ${FACET_VALUES}`,
      [...where.values],
    );
    found['pattern'] = patterns.map(({ value, count }) => ({
      ...{ value, name: this.names.nameOf('pattern', value), count: Number(count) },
    }));
    return found;
  }

  async get(id: string, caller: Caller): Promise<ItemDetail> {
    const item = await this.manager.findOneBy(ItemEntity, { id });
    const [row] = item ? await this.rows([id]) : [];
    if (!item || !row) throw new AppError('not-found', 'There is no such item.');
    const evidence = await this.manager.findOneBy(ItemEvidenceEntity, { itemId: id });
    const opened = evidence
      ? ((await unsealJson(this.config.keys.installation, evidenceAt(id), evidence.sealed)) as {
          readonly excerpts: readonly ReadExcerpt[];
          readonly unreadableParts: ItemDetail['unreadableParts'];
        })
      : { excerpts: [], unreadableParts: [] };
    const reader = item.readerId ? await this.manager.findOneBy(ReaderEntity, { id: item.readerId }) : null;
    return {
      ...row,
      ...{
        readAt: item.readAt?.toISOString() ?? null,
        revision: item.revision,
        reader: reader?.name ?? null,
      },
      excerpts: opened.excerpts.map((excerpt) => ({
        ...excerpt,
        marks: excerpt.marks.map((mark) => ({
          ...mark,
          pattern: this.names.nameOf('pattern', mark.pattern),
        })),
      })),
      unreadableParts: opened.unreadableParts,
      copiesAt: await this.copiesOf(item),
      history: await this.historyOf(item),
      fetches: await this.fetches.of(id, caller),
      incident: await this.incidents.numberOf(item),
    };
  }

  private async rows(ids: readonly string[]): Promise<ItemRow[]> {
    if (ids.length === 0) return [];
    const items = await this.manager.findBy(ItemEntity, { id: In([...ids]) });
    const places = new Map((await this.manager.find(DiscoveryPlaceEntity)).map(({ id, name }) => [id, name]));
    const digests = items.flatMap(({ digest }) => (digest ? [digest] : []));
    const copies = digests.length
      ? await this.manager.query<{ digest: string; copies: string }[]>(
          "SELECT digest, COUNT(*) AS copies FROM discovery_item WHERE digest IN (?) AND state <> 'gone' GROUP BY digest",
          [digests],
        )
      : [];
    const byDigest = new Map(copies.map((row) => [row.digest, Number(row.copies)]));
    const labels = this.context.labels();
    const rows = new Map(
      items.map((item): [string, ItemRow] => [
        item.id,
        {
          ...{ id: item.id, path: item.path, bytes: item.bytes, owner: item.owner, state: item.state },
          place: { id: item.placeId, name: places.get(item.placeId) ?? '' },
          ...{ changedAt: item.changedAt?.toISOString() ?? null, reason: item.reason, reach: item.reach },
          found: item.found.map((each) => ({ ...each, name: this.names.nameOf('pattern', each.pattern) })),
          label: labelById(labels, item.labelId)?.name ?? item.labelId,
          suggested: labelById(labels, item.suggested)?.name ?? null,
          ...{ misplaced: item.misplaced, quarantined: item.quarantined },
          copies: byDigest.get(item.digest ?? '') ?? 1,
        },
      ]),
    );
    return ids.flatMap((id) => rows.get(id) ?? []);
  }

  private async copiesOf({ digest, id }: ItemEntity): Promise<ItemDetail['copiesAt']> {
    if (!digest) return [];
    return this.manager.query(
      `SELECT i.id AS id, p.name AS place, i.path AS path FROM ${ITEM_TABLES}
       WHERE i.digest = ? AND i.id <> ? AND i.state <> 'gone' ORDER BY p.name, i.path LIMIT ${COPIES}`,
      [digest, id],
    );
  }

  private async historyOf({ id }: ItemEntity): Promise<ItemHistoryEntry[]> {
    const changes = await this.manager.find(ItemChangeEntity, {
      where: { itemId: id },
      order: { id: 'DESC' },
      take: HISTORY,
    });
    const acted = await this.manager.findBy(ActItemEntity, { itemId: id, state: In(['done', 'refused']) });
    const acts = new Map(
      (await this.manager.findBy(ActEntity, { id: In(acted.map(({ actId }) => actId)) })).map((act) => [
        act.id,
        act,
      ]),
    );
    const fetched = await this.manager.find(FetchEntity, {
      where: { itemId: id },
      select: { id: true, at: true, actor: true, reason: true },
    });
    const labels = this.context.labels();
    const entries = [
      ...fetched.map(({ at, actor, reason }) => ({
        at,
        by: actor,
        what: 'fetched' as const,
        detail: reason,
      })),
      ...changes.flatMap(({ at, before, after }) =>
        changesBetween(before, after).map((what) => ({ at, by: '', what, detail: '' })),
      ),
      ...acted.flatMap(({ actId, state, reason, endedAt }) => {
        const act = acts.get(actId);
        if (!act) return [];
        const what = state === 'done' ? DONE_WORDS[act.act] : ('refused' as const);
        const label = labelById(labels, act.labelId)?.name;
        const detail = state === 'done' ? [label, act.reason].filter(Boolean).join(': ') : (reason ?? '');
        return [{ at: endedAt ?? act.at, by: act.actor, what, detail }];
      }),
    ];
    return entries
      .sort((left, right) => right.at.getTime() - left.at.getTime())
      .map((entry) => ({ ...entry, at: entry.at.toISOString() }));
  }
}

function writeMark(value: unknown, id: string): string {
  const plain = value instanceof Date ? value.toISOString() : value;
  return Buffer.from(JSON.stringify([plain, id])).toString('base64url');
}

function readMark(mark: string): { readonly value: unknown; readonly id: string } {
  try {
    const [value, id] = JSON.parse(Buffer.from(mark, 'base64url').toString('utf8')) as [unknown, unknown];
    const isTime = typeof value === 'string' && /^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/u.test(value);
    if ((typeof value === 'string' || typeof value === 'number') && typeof id === 'string')
      return { value: isTime ? new Date(value) : value, id };
  } catch {
    // Falls through to the refusal.
  }
  throw new AppError('invalid-request', 'after is not the mark of a page.');
}
