import { type EntityManager, In } from 'typeorm';
import { insertOnly } from '../../platform/database/insert-only.js';
import { ScimRefusal } from './scim-errors.js';
import { ScimMemberEntity, ScimResourceEntity } from './scim.entity.js';

/** Rows of one statement. */
const AT_ONCE = 2_000;

/** Ids of the members of groups, by group. */
export async function membersOf(
  manager: EntityManager,
  groupIds: readonly string[],
): Promise<ReadonlyMap<string, readonly string[]>> {
  const found = new Map<string, string[]>();
  for (const page of pages(groupIds))
    for (const { groupId, memberId } of await manager.findBy(ScimMemberEntity, { groupId: In(page) }))
      append(found, groupId, memberId);
  return found;
}

/** The groups that users are in, as a user shows them. */
export async function groupsOfMembers(
  manager: EntityManager,
  memberIds: readonly string[],
): Promise<ReadonlyMap<string, { value: string; display: string }[]>> {
  const found = new Map<string, { value: string; display: string }[]>();
  if (memberIds.length === 0) return found;
  const rows: { memberId: string; id: string; name: string }[] = await manager.query(
    `SELECT m.memberId AS memberId, g.id AS id, g.name AS name
     FROM scim_member m JOIN scim_resource g ON g.id = m.groupId
     WHERE m.memberId IN (${memberIds.map(() => '?').join(', ')}) ORDER BY g.name`,
    [...memberIds],
  );
  for (const { memberId, id, name } of rows) append(found, memberId, { value: id, display: name });
  return found;
}

/** Gives a group these members and no others. Throws `invalidValue` for one that there is not. */
export async function setMembers(
  manager: EntityManager,
  groupId: string,
  wanted: ReadonlySet<string>,
): Promise<void> {
  const there = new Set((await membersOf(manager, [groupId])).get(groupId));
  const added = [...wanted].filter((id) => !there.has(id));
  const gone = [...there].filter((id) => !wanted.has(id));
  for (const page of pages(added)) {
    const known = await manager.find(ScimResourceEntity, { where: { id: In(page) }, select: { id: true } });
    const ids = new Set(known.map(({ id }) => id));
    const missing = page.find((id) => !ids.has(id));
    if (missing !== undefined)
      throw new ScimRefusal(400, 'invalidValue', `There is no member ${missing.slice(0, 80)}.`);
    await insertOnly(
      manager,
      ScimMemberEntity,
      page.map((memberId) => ({ groupId, memberId })),
    );
  }
  for (const page of pages(gone)) await manager.delete(ScimMemberEntity, { groupId, memberId: In(page) });
}

/** Adds to a list in place: a copy for each of 100,000 members would hold everybody up. */
function append<Value>(lists: Map<string, Value[]>, key: string, value: Value): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
}

function* pages(ids: readonly string[]): Generator<string[]> {
  for (let at = 0; at < ids.length; at += AT_ONCE) yield ids.slice(at, at + AT_ONCE);
}
