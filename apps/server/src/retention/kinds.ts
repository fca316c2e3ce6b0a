import type { KeptKind } from '@lantern/contracts/retention';
import { assertNever } from '@lantern/core/shared';
import type { EntityManager } from 'typeorm';
import type { KeyRing } from '../platform/keys/key-ring.js';
import { destroyKeys, renewKeys } from '../platform/keys/renew-keys.js';
import { IS_HELD, isHeldPerson } from '../platform/legal-hold/held.js';

/**
 * Days that a new installation begins with: long enough for a yearly comparison, short enough for values of people. One
 * from before there were days keeps everything until somebody chooses.
 */
export const FIRST_DAYS: Readonly<Record<KeptKind, number | null>> = {
  movements: 400,
  evidence: 400,
  pictures: 60,
  incidents: 1_100,
  post: 400,
  replays: 200,
  reports: 800,
  trail: 1_100,
};

/** Something of a kind, by what its rows are and which of them are too old. `?` stands for an instant. */
interface Rows {
  /** Rows with their ids as `id`, under the name `m` where a hold can be about them. */
  readonly from: string;
  readonly id: string;
  readonly at: string;
  /** Beside their age. */
  readonly when: string;
  readonly held: string;
}

/** Mail in the stand-in, with the address of its owner as `o.address`; also of owners who left. */
export const MAIL_OF_OWNERS = `mail_message x LEFT JOIN (
  SELECT id, address FROM person UNION ALL SELECT id, address FROM former_person) o ON o.id = x.ownerId`;

const NOBODY_WAITS = 'NOT EXISTS (SELECT 1 FROM pending_movement w WHERE w.movementId = m.id)';

const MAIL: Rows = {
  ...{ from: MAIL_OF_OWNERS, id: 'x.id', at: 'x.at', when: '1 = 1' },
  held: isHeldPerson('o.address'),
};
const POSTS: Rows = {
  ...{ from: 'post x', id: 'x.id', at: 'x.at', when: "x.state <> 'waiting'" },
  held: isHeldPerson('x.author'),
};
const OUTSIDE_MAIL: Rows = {
  ...{ from: 'post_mail x', id: 'x.id', at: 'x.at', when: '1 = 1' },
  held: `(${isHeldPerson('x.sender')} OR ${isHeldPerson('x.recipient')})`,
};

/** Nothing of a question to an assistant waits for anybody. */
export const TALK_IS_OVER =
  "x.questionState <> 'waiting' AND (x.answerState IS NULL OR x.answerState <> 'waiting')";

const TALKS: Rows = {
  ...{ from: 'assistant_talk x', id: 'x.id', at: 'x.at', held: isHeldPerson('x.person') },
  when: TALK_IS_OVER,
};
const RUNS: Rows = {
  ...{ from: 'flow_run x LEFT JOIN person o ON o.id = x.player', id: 'x.id', at: 'x.startedAt' },
  ...{ when: "x.state IN ('done', 'stopped')", held: isHeldPerson('o.address') },
};

/** Rows of which a kind is made. What still waits for somebody is never among them. */
export function rowsOf(kind: KeptKind): readonly Rows[] {
  switch (kind) {
    case 'movements':
      return [
        {
          ...{ from: 'movement m', id: 'm.id', at: 'm.at', held: IS_HELD },
          when: `m.incidentNumber IS NULL AND ${NOBODY_WAITS}`,
        },
      ];
    case 'evidence':
      return [
        {
          from: `evidence e JOIN movement m ON m.id = e.movementId
            JOIN incident n ON n.movementId = m.id`,
          ...{ id: 'm.id', at: 'm.at', when: `n.status = 'decided' AND ${NOBODY_WAITS}`, held: IS_HELD },
        },
      ];
    case 'pictures':
      return [
        {
          ...{ from: 'kept_pictures e JOIN movement m ON m.id = e.movementId', id: 'm.id', at: 'm.at' },
          ...{ when: NOBODY_WAITS, held: IS_HELD },
        },
      ];
    case 'incidents':
      return [
        {
          ...{ from: 'incident n JOIN movement m ON m.id = n.movementId', id: 'm.id', held: IS_HELD },
          ...{ at: 'n.decidedAt', when: `n.status = 'decided' AND ${NOBODY_WAITS}` },
        },
      ];
    case 'post':
      return [MAIL, POSTS, OUTSIDE_MAIL, TALKS, RUNS];
    case 'replays':
      return [
        {
          ...{ from: 'replay x', id: 'x.id', at: 'x.startedAt', when: "x.state <> 'running'" },
          held: '1 = 0',
        },
      ];
    case 'reports':
      return [{ ...{ from: 'report_run x', id: 'x.id', at: 'x.at', when: '1 = 1' }, held: '1 = 0' }];
    case 'trail':
      return [{ ...{ from: 'trail_entry x', id: 'x.number', at: 'x.at', when: '1 = 1' }, held: '1 = 0' }];
    default:
      return assertNever(kind);
  }
}

/** Deletes rows of a kind with everything that belongs to them and to nothing else. */
export async function deleteRows(
  manager: EntityManager,
  rows: Rows,
  ids: readonly string[],
  { kind, keys }: { readonly kind: KeptKind; readonly keys: KeyRing },
): Promise<void> {
  const [table = ''] = rows.from.split(' ', 1);
  switch (kind) {
    case 'movements':
      return deleteMovements(manager, ids);
    case 'evidence':
      await deleteBy(manager, 'journal', 'movementId', ids);
      for (const copies of ['evidence', 'kept_original', 'kept_pictures'])
        await deleteBy(manager, copies, 'movementId', ids);
      return renewKeys(manager, keys, ids);
    case 'pictures':
      await deleteBy(manager, 'kept_pictures', 'movementId', ids);
      return renewKeys(manager, keys, ids);
    case 'incidents':
      return deleteIncidents(manager, ids);
    case 'post':
      if (table === 'post') await deleteBy(manager, 'post_file', 'postId', ids);
      await deleteBy(manager, table, 'id', ids);
      // Files of mails are shared by their copies.
      if (table === 'mail_message')
        await manager.query('DELETE FROM mail_file WHERE id NOT IN (SELECT fileId FROM mail_attachment)');
      return;
    case 'replays':
    case 'reports':
      return deleteBy(manager, table, 'id', ids);
    case 'trail':
      throw new Error('Entries of the trail are deleted by the keeper alone');
    default:
      return assertNever(kind);
  }
}

/** Movements and what says something about them alone. What a program handed in is still known to be answered. */
export async function deleteMovements(manager: EntityManager, ids: readonly string[]): Promise<void> {
  for (const table of [
    ...['movement_trait', 'moved_value', 'journal', 'evidence', 'kept_original', 'kept_pictures'],
  ])
    await deleteBy(manager, table, 'movementId', ids);
  await destroyKeys(manager, ids);
  await deleteBy(manager, 'movement', 'id', ids);
}

const OF_INCIDENTS = [
  ...['alert', 'alike_band', 'bulk_decision_item', 'case_value', 'digest_entry', 'hook_delivery'],
  ...['incident_history', 'pending_movement', 'question', 'raised_trust', 'rule_match', 'movement_trait'],
  'standing_approval',
  'routed_response',
];

/** Decided incidents with their movements, by the ids of these. One that was reopened meanwhile stays whole. */
export async function deleteIncidents(manager: EntityManager, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const found: { number: number; movementId: string }[] = await manager.query(
    `SELECT number, movementId FROM incident
     WHERE movementId IN (${marks(ids)}) AND status = 'decided' FOR UPDATE`,
    [...ids],
  );
  const numbers = found.map(({ number }) => String(number));
  const movements = found.map(({ movementId }) => movementId);
  if (numbers.length === 0) return;
  for (const table of OF_INCIDENTS) await deleteBy(manager, table, 'incidentNumber', numbers);
  // A change that false positives led to stays without the one that it began with.
  await manager.query(
    `UPDATE prevention SET incidentNumber = NULL WHERE incidentNumber IN (${marks(numbers)})`,
    numbers,
  );
  // Nobody can ask for an override of what is gone.
  await manager.query(
    `UPDATE submission SET incident = NULL WHERE movementId IN (${marks(movements)})`,
    movements,
  );
  await deleteBy(manager, 'incident', 'number', numbers);
  await deleteMovements(manager, movements);
}

async function deleteBy(
  manager: EntityManager,
  table: string,
  column: string,
  values: readonly string[],
): Promise<void> {
  if (values.length === 0) return;
  await manager.query(`DELETE FROM ${table} WHERE ${column} IN (${marks(values)})`, [...values]);
}

export const marks = (values: readonly unknown[]): string => values.map(() => '?').join(', ');
