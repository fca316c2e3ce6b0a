import { type ItemGroupRow, type ItemGroups, MAX_ITEM_GROUPS } from '@lantern/contracts/discovery';
import {
  ITEM_AGES,
  ITEM_GROUPS,
  ITEM_REACHES,
  type ItemGroup,
  lineOfGroup,
  NO_AGE,
} from '@lantern/core/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { labelById } from '../../published/published-labels.js';
import { DiscoveryContext } from '../discovery-context.js';
import { DiscoveryNames } from '../discovery-names.service.js';
import { compileItems, ITEM_TABLES } from './compile-items.js';
import { Items } from './items.service.js';

const DAY_MS = 86_400_000;

/** Value of a group in SQL; the age needs the times that part one age from the next. */
const EXPRESSIONS: Readonly<Record<Exclude<ItemGroup, 'age'>, string>> = {
  pattern: 'f.pattern',
  place: 'p.name',
  // Everything before the last slash.
  folder: "IF(LOCATE('/', i.path) = 0, '', LEFT(i.path, CHAR_LENGTH(i.path) - LOCATE('/', REVERSE(i.path))))",
  owner: 'i.owner',
  ending: 'i.ending',
  label: "COALESCE(i.labelId, '')",
  suggested: "COALESCE(i.suggested, '')",
  reach: 'i.reach',
  state: 'i.state',
  reason: "COALESCE(i.reason, '')",
};

type GroupRow = Readonly<Record<string, string | null>>;

/** Items under a filter, gathered by one or two things. */
@Injectable()
export class ItemGroupsService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly items: Items,
    private readonly names: DiscoveryNames,
    private readonly context: DiscoveryContext,
  ) {}

  async of(line: string | undefined, asked: string, now = new Date()): Promise<ItemGroups> {
    const by = readGroups(asked);
    const where = compileItems(this.items.readFilter(line ?? ''), this.names, now);
    const columns = by.map((group) => expressionOf(group, now));
    const joined = by.includes('pattern')
      ? `${ITEM_TABLES} JOIN discovery_found f ON f.itemId = i.id`
      : ITEM_TABLES;
    const names = columns.map(({ sql }, at) => `${sql} AS g${at}`).join(', ');
    const rows = await this.manager.query<GroupRow[]>(
      `SELECT ${names}, COUNT(*) AS items, SUM(i.isSensitive) AS held, SUM(i.bytes) AS bytes,
         MAX(${reachRank()}) AS reach, MAX(i.changedAt) AS newest
       FROM ${joined} WHERE ${where.sql} GROUP BY ${columns.map((_, at) => `g${at}`).join(', ')}
       ORDER BY items DESC, ${columns.map((_, at) => `g${at}`).join(', ')} LIMIT ${MAX_ITEM_GROUPS + 1}`,
      [...columns.flatMap(({ values }) => values), ...where.values],
    );
    return {
      rows: rows.slice(0, MAX_ITEM_GROUPS).map((row) => this.toRow(by, row, now)),
      more: rows.length > MAX_ITEM_GROUPS,
    };
  }

  private toRow(by: readonly ItemGroup[], row: GroupRow, now: Date): ItemGroupRow {
    return {
      values: by.map((group, at) => {
        const value = String(row[`g${at}`] ?? '');
        const name = this.nameOf(group, value);
        return { name, line: lineOfGroup(group, name, now.getTime()) };
      }),
      ...{ items: Number(row['items']), sensitive: Number(row['held']), bytes: Number(row['bytes']) },
      reach: ITEM_REACHES[Number(row['reach'])] ?? 'few',
      newest: row['newest'] ? new Date(row['newest']).toISOString() : null,
    };
  }

  private nameOf(group: ItemGroup, value: string): string {
    if (group === 'pattern') return this.names.nameOf('pattern', value);
    if (group === 'label' || group === 'suggested')
      return labelById(this.context.labels(), value)?.name ?? value;
    return value;
  }
}

/** Throws `invalid-request` for what is no group. */
function readGroups(asked: string): ItemGroup[] {
  const by = asked.split(',').map((each) => ITEM_GROUPS.find((known) => known === each.trim()));
  const known = by.filter((each) => each !== undefined);
  if (known.length !== by.length || by.length > 2 || new Set(known).size !== known.length)
    throw new AppError('invalid-request', `by is one or two of: ${ITEM_GROUPS.join(', ')}.`);
  return known;
}

function expressionOf(
  group: ItemGroup,
  now: Date,
): { readonly sql: string; readonly values: readonly Date[] } {
  if (group !== 'age') return { sql: EXPRESSIONS[group], values: [] };
  const cases = ITEM_AGES.map((_, at) => `WHEN i.changedAt >= ? THEN ${at}`).join(' ');
  return {
    sql: `CASE WHEN i.changedAt IS NULL THEN ${NO_AGE} ${cases} ELSE ${ITEM_AGES.length} END`,
    values: ITEM_AGES.map((days) => new Date(now.getTime() - days * DAY_MS)),
  };
}

const reachRank = (): string => `FIELD(i.reach, ${ITEM_REACHES.map((reach) => `'${reach}'`).join(', ')}) - 1`;
