import { randomUUID } from 'node:crypto';
import { MAX_PEOPLE } from '@lantern/core/directory';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { patchBodyValidation, scimPatch, type ScimPatch, type ScimResource } from 'scim-patch';
import { EntityManager, Not } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { isDuplicate } from '../../platform/database/duplicate.js';
import { insertOnly } from '../../platform/database/insert-only.js';
import { ScimRefusal } from './scim-errors.js';
import { equalTo, readFilter, testOf } from './scim-filter.js';
import { MOST_ITEMS, readResource, type ScimKind, writeResource } from './scim-schemas.js';
import { groupsOfMembers, membersOf, setMembers } from './scim-members.js';
import { ScimMemberEntity, ScimResourceEntity } from './scim.entity.js';

/** Operations of one change; a client that adds more members sends several. */
const MOST_OPERATIONS = 1_000;
const LONGEST_NAME = 254;
/** Resources read at once where a filter has to look at all of them. */
const READ_AT_ONCE = 2_000;

/** What a list is asked for (RFC 7644, 3.4.2). */
export interface ScimQuery {
  readonly filter?: string | undefined;
  readonly startIndex?: string | undefined;
  readonly count?: string | undefined;
  readonly attributes?: string | undefined;
  readonly excludedAttributes?: string | undefined;
}

type Shown = Record<string, unknown>;

/** Users and groups as SCIM clients tell of them: kept as told, apart from the directory that is made of them. */
@Injectable()
export class ScimResources {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async list(kind: ScimKind, query: ScimQuery): Promise<Shown> {
    const start = Math.max(1, numberOf(query.startIndex, 1));
    const count = Math.min(MOST_ITEMS, Math.max(0, numberOf(query.count, MOST_ITEMS)));
    const { rows, total } = await this.find(kind, query.filter, { start, count });
    return {
      schemas: ['urn:ietf:params:scim:api:messages:2.0:ListResponse'],
      ...{ totalResults: total, startIndex: start, itemsPerPage: rows.length },
      Resources: await this.shown(kind, rows, query),
    };
  }

  async get(kind: ScimKind, id: string, query: ScimQuery = {}): Promise<Shown> {
    const [resource = {}] = await this.shown(kind, [await this.row(kind, id)], query);
    return resource;
  }

  async create(kind: ScimKind, body: unknown): Promise<Shown> {
    const now = new Date();
    const { members, ...columns } = columnsOf(kind, readResource(kind, body));
    const fixed = { id: randomUUID(), kind, version: 1, createdAt: now, changedAt: now };
    const row: ScimResourceEntity = { ...fixed, ...columns };
    await this.once(kind, async (manager) => {
      if ((await manager.countBy(ScimResourceEntity, { kind })) >= MAX_PEOPLE)
        throw new ScimRefusal(403, null, `More than ${MAX_PEOPLE} are not kept.`);
      await demandFree(manager, row);
      await insertOnly(manager, ScimResourceEntity, [row]);
      if (members) await setMembers(manager, row.id, members);
    });
    return this.get(kind, row.id);
  }

  replace(kind: ScimKind, id: string, body: unknown): Promise<Shown> {
    return this.change(kind, id, () => readResource(kind, body));
  }

  /** Changes parts of a resource (RFC 7644, 3.5.2), all operations or none. */
  patch(kind: ScimKind, id: string, body: unknown): Promise<Shown> {
    const operations = operationsOf(body);
    return this.change(kind, id, (before) => {
      try {
        const patched = scimPatch(
          { ...before, schemas: [], meta: {} } as unknown as ScimResource,
          operations,
          {
            mutateDocument: false,
            treatMissingAsAdd: true,
          },
        );
        return readResource(kind, patched);
      } catch (error) {
        if (error instanceof ScimRefusal) throw error;
        throw new ScimRefusal(400, 'invalidPath', 'An operation cannot be applied. Nothing was changed.');
      }
    });
  }

  async remove(kind: ScimKind, id: string): Promise<void> {
    await this.manager.transaction(async (manager) => {
      await this.row(kind, id);
      await manager.delete(ScimResourceEntity, { id });
      await manager.delete(ScimMemberEntity, [{ groupId: id }, { memberId: id }]);
    });
  }

  count(kind: ScimKind): Promise<number> {
    return this.manager.countBy(ScimResourceEntity, { kind });
  }

  /** Everything that is kept, for the directory. */
  async all(kind: ScimKind): Promise<ScimResourceEntity[]> {
    return this.manager.find(ScimResourceEntity, { where: { kind }, order: { createdAt: 'ASC', id: 'ASC' } });
  }

  private async change(
    kind: ScimKind,
    id: string,
    next: (before: Record<string, unknown>) => Record<string, unknown>,
  ): Promise<Shown> {
    await this.once(kind, async (manager) => {
      const before = await manager.findOne(ScimResourceEntity, {
        where: { kind, id },
        lock: { mode: 'pessimistic_write' },
      });
      if (!before) throw unknown(kind, id);
      const [{ attributes = {} } = {}] = await this.withRelated(kind, [before]);
      const { members, ...columns } = columnsOf(kind, next(attributes));
      const row = { ...before, ...columns, version: before.version + 1, changedAt: new Date() };
      await demandFree(manager, row);
      await manager.save(ScimResourceEntity, row);
      if (members) await setMembers(manager, id, members);
    });
    return this.get(kind, id);
  }

  /** Two requests for one name can come at the same time: the second is refused as it would be a moment later. */
  private async once(kind: ScimKind, work: (manager: EntityManager) => Promise<void>): Promise<void> {
    try {
      await this.manager.transaction(work);
    } catch (error) {
      throw isDuplicate(error) ? nameTaken(kind) : error;
    }
  }

  private async row(kind: ScimKind, id: string): Promise<ScimResourceEntity> {
    const found = await this.manager.findOneBy(ScimResourceEntity, { kind, id });
    if (!found) throw unknown(kind, id);
    return found;
  }

  private async find(
    kind: ScimKind,
    text: string | undefined,
    { start, count }: { readonly start: number; readonly count: number },
  ): Promise<{ readonly rows: ScimResourceEntity[]; readonly total: number }> {
    const order = { createdAt: 'ASC', id: 'ASC' } as const;
    const asked = text === undefined || text.trim() === '' ? null : readFilter(text);
    const equal = asked && equalTo(asked);
    const column = equal && COLUMNS[kind][equal.attribute];
    const where = column ? { kind, [column]: equal.value } : { kind };
    if (!asked || column) {
      const total = await this.manager.countBy(ScimResourceEntity, where);
      const skip = start - 1;
      const rows = await this.manager.find(ScimResourceEntity, { where, order, skip, take: count });
      return { rows: count === 0 ? [] : rows, total };
    }
    const test = testOf(asked);
    const matched: ScimResourceEntity[] = [];
    for (let skip = 0, isMore = true; isMore; skip += READ_AT_ONCE) {
      const rows = await this.manager.find(ScimResourceEntity, { where, order, skip, take: READ_AT_ONCE });
      const shown = await this.shown(kind, rows);
      rows.forEach((row, at) => test(shown[at] ?? {}) && matched.push(row));
      isMore = rows.length === READ_AT_ONCE;
    }
    return { rows: matched.slice(start - 1, start - 1 + count), total: matched.length };
  }

  private async shown(
    kind: ScimKind,
    rows: readonly ScimResourceEntity[],
    query: ScimQuery = {},
  ): Promise<Shown[]> {
    return (await this.withRelated(kind, rows, query)).map(({ row, attributes }) =>
      projected(writeResource(kind, attributes, row, this.config.address), query),
    );
  }

  /** Groups with their members, and users with their groups, which only groups can change (RFC 7643, 4.1.2). */
  private async withRelated(
    kind: ScimKind,
    rows: readonly ScimResourceEntity[],
    query: ScimQuery = {},
  ): Promise<{ readonly row: ScimResourceEntity; readonly attributes: Record<string, unknown> }[]> {
    const ids = rows.map(({ id }) => id);
    const attribute = kind === 'User' ? 'groups' : 'members';
    // The members of a large group are what most requests leave out.
    if (!isShown(attribute, query)) return rows.map((row) => ({ row, attributes: row.attributes }));
    const related =
      kind === 'User' ? await groupsOfMembers(this.manager, ids) : await membersOf(this.manager, ids);
    return rows.map((row) => {
      const found: readonly unknown[] = related.get(row.id) ?? [];
      const values = kind === 'User' ? found : found.map((value) => ({ value }));
      return {
        row,
        attributes: values.length > 0 ? { ...row.attributes, [attribute]: values } : row.attributes,
      };
    });
  }
}

function columnsOf(
  kind: ScimKind,
  { members, ...attributes }: Record<string, unknown>,
): Pick<ScimResourceEntity, 'name' | 'externalId' | 'attributes'> & { members: ReadonlySet<string> | null } {
  const field = kind === 'User' ? 'userName' : 'displayName';
  const given = attributes[field];
  const name = typeof given === 'string' ? given.trim() : '';
  const externalId = attributes['externalId'];
  if (name === '' || name.length > LONGEST_NAME)
    throw new ScimRefusal(400, 'invalidValue', `${field} must have 1 to ${LONGEST_NAME} characters.`);
  if (typeof externalId === 'string' && externalId.length > LONGEST_NAME)
    throw new ScimRefusal(400, 'invalidValue', `externalId is longer than ${LONGEST_NAME} characters.`);
  return {
    ...{ name, attributes, externalId: typeof externalId === 'string' ? externalId : null },
    members: kind === 'Group' ? idsOf(members) : null,
  };
}

function idsOf(members: unknown): ReadonlySet<string> {
  const ids = new Set(
    (Array.isArray(members) ? members : []).flatMap((each: unknown) => {
      const value = (each as { value?: unknown } | null)?.value;
      return typeof value === 'string' ? [value.toLowerCase()] : [];
    }),
  );
  const odd = [...ids].find((id) => !/^[0-9a-f-]{36}$/u.test(id));
  if (odd !== undefined)
    throw new ScimRefusal(400, 'invalidValue', `There is no member ${odd.slice(0, 80)}.`);
  if (ids.size > MAX_PEOPLE)
    throw new ScimRefusal(400, 'tooMany', `A group has at most ${MAX_PEOPLE} members.`);
  return ids;
}

async function demandFree(
  manager: EntityManager,
  { kind, id, name }: Pick<ScimResourceEntity, 'kind' | 'id' | 'name'>,
): Promise<void> {
  if (await manager.existsBy(ScimResourceEntity, { kind, name, id: Not(id) })) throw nameTaken(kind);
}

const nameTaken = (kind: ScimKind): ScimRefusal =>
  new ScimRefusal(409, 'uniqueness', `There is a ${kind.toLowerCase()} of this name already.`);

/** Columns that attributes are found by. */
const COLUMNS: Readonly<Record<ScimKind, Readonly<Record<string, 'id' | 'name' | 'externalId'>>>> = {
  User: { id: 'id', username: 'name', externalid: 'externalId' },
  Group: { id: 'id', displayname: 'name', externalid: 'externalId' },
};

const unknown = (kind: ScimKind, id: string): ScimRefusal =>
  new ScimRefusal(404, null, `There is no ${kind.toLowerCase()} ${id.slice(0, 80)}.`);

function numberOf(text: string | undefined, otherwise: number): number {
  if (text === undefined || text === '') return otherwise;
  if (!/^-?\d{1,9}$/u.test(text))
    throw new ScimRefusal(400, 'invalidValue', 'startIndex and count must be whole numbers.');
  return Number(text);
}

function operationsOf(body: unknown): ScimPatch['Operations'] {
  const operations = (body as { Operations?: unknown } | null)?.Operations;
  if (Array.isArray(operations) && operations.length > MOST_OPERATIONS)
    throw new ScimRefusal(413, 'tooMany', `At most ${MOST_OPERATIONS} operations are taken at once.`);
  try {
    patchBodyValidation(body as ScimPatch);
  } catch {
    throw new ScimRefusal(400, 'invalidSyntax', 'The operations cannot be read. See RFC 7644, 3.5.2.');
  }
  const given = body as ScimPatch;
  for (const { path } of given.Operations)
    if (
      typeof path === 'string' &&
      (path.length > LONGEST_NAME || /__proto__|constructor|prototype/iu.test(path))
    )
      throw new ScimRefusal(400, 'invalidPath', 'A path names no attribute.');
  return given.Operations;
}

/** What is asked for alone, or without what is not; `id` and `schemas` always (RFC 7644, 3.9). */
function projected(resource: Shown, { attributes, excludedAttributes }: ScimQuery): Shown {
  if (!attributes && !excludedAttributes) return resource;
  return Object.fromEntries(
    Object.entries(resource).filter(
      ([name]) => name === 'id' || name === 'schemas' || isShown(name, { attributes, excludedAttributes }),
    ),
  );
}

function isShown(name: string, { attributes, excludedAttributes }: ScimQuery): boolean {
  const only = namesOf(attributes);
  const small = name.toLowerCase();
  return only.size > 0 ? only.has(small) : !namesOf(excludedAttributes).has(small);
}

/** Names of attributes, sub-attributes by what they belong to. */
function namesOf(list: string | undefined): ReadonlySet<string> {
  const names = (list ?? '').slice(0, 2_000).split(',');
  return new Set(
    names.flatMap((each) => {
      const name = each.trim().toLowerCase();
      if (name === '') return [];
      return [
        name.startsWith('urn:') ? name.replace(/:user:[^:]*$/u, ':user') : (name.split('.')[0] ?? name),
      ];
    }),
  );
}
