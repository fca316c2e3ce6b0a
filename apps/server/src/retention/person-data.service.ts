import type { PersonData, PersonPart, StayReason } from '@lantern/contracts/retention';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { DeskCounts } from '../incidents/counts/desk-counts.service.js';
import { PeopleService } from '../directory/people.service.js';
import { AppError } from '../platform/errors/app-error.js';
import { CONFIG, type Config } from '../platform/config.js';
import { renewKeys } from '../platform/keys/renew-keys.js';
import { IS_HELD } from '../platform/legal-hold/held.js';
import { deleteIncidents, deleteMovements, MAIL_OF_OWNERS, marks, TALK_IS_OVER } from './kinds.js';
import { LegalHolds } from './legal-holds.service.js';

/** Rows of one transaction. */
const BATCH = 200;

/** Where something about a person stands: counted with their address once. */
const COUNTS: readonly {
  readonly what: PersonPart;
  readonly sql: string;
  readonly stays: StayReason | null;
}[] = [
  { what: 'directory', sql: 'person p WHERE p.address = ?', stays: 'in-directory' },
  {
    what: 'movements',
    sql: 'movement m WHERE m.personAddress = ? AND m.incidentNumber IS NULL',
    stays: null,
  },
  {
    what: 'evidence',
    sql: `evidence e JOIN movement m ON m.id = e.movementId JOIN incident n ON n.movementId = m.id
          WHERE m.personAddress = ? AND n.status = 'decided'`,
    stays: null,
  },
  {
    what: 'decided-incidents',
    sql: "incident n WHERE n.personAddress = ? AND n.status = 'decided'",
    stays: null,
  },
  {
    what: 'open-incidents',
    sql: "incident n WHERE n.personAddress = ? AND n.status <> 'decided'",
    stays: 'undecided',
  },
  {
    what: 'journal',
    sql: 'journal j JOIN movement m ON m.id = j.movementId WHERE m.personAddress = ?',
    stays: null,
  },
  { what: 'mail', sql: `${MAIL_OF_OWNERS} WHERE o.address = ?`, stays: null },
  { what: 'posts', sql: "post x WHERE x.author = ? AND x.state <> 'waiting'", stays: null },
  { what: 'second-factor', sql: 'person_factor f WHERE f.personAddress = ?', stays: null },
  { what: 'passkeys', sql: 'person_passkey f WHERE f.personAddress = ?', stays: null },
  {
    what: 'assistant-talks',
    sql: `assistant_talk x WHERE x.person = ? AND ${TALK_IS_OVER}`,
    stays: null,
  },
  {
    what: 'flow-runs',
    sql: `flow_run x JOIN person o ON o.id = x.player WHERE o.address = ? AND x.state IN ('done', 'stopped')`,
    stays: null,
  },
  { what: 'approvals', sql: 'standing_approval a WHERE a.person = ?', stays: null },
  { what: 'trust', sql: 'raised_trust t WHERE t.personAddress = ?', stays: null },
  { what: 'label-changes', sql: 'label_change c WHERE c.`by` = ?', stays: 'history-of-labels' },
  { what: 'machines', sql: 'machine c WHERE c.owner = ?', stays: 'in-directory' },
  {
    what: 'identity-provider',
    sql: `scim_resource r JOIN person p ON p.source = 'scim' AND p.sourceKey = r.id WHERE p.address = ?`,
    stays: 'in-directory',
  },
  {
    what: 'stored-evidence',
    sql: 'discovery_evidence e JOIN discovery_item i ON i.id = e.itemId WHERE i.owner = ?',
    stays: null,
  },
  {
    what: 'fetched-items',
    sql: 'discovery_fetch e JOIN discovery_item i ON i.id = e.itemId WHERE i.owner = ? AND e.sealed IS NOT NULL',
    stays: null,
  },
  { what: 'clean-ups', sql: 'discovery_clean_up c WHERE c.owner = ?', stays: 'proof-of-acts' },
  { what: 'stored-items', sql: 'discovery_item i WHERE i.owner = ?', stays: 'in-its-place' },
  { what: 'drive-files', sql: 'drive_file f WHERE f.owner = ?', stays: 'in-its-place' },
  { what: 'documents', sql: 'document d WHERE d.ownerAddress = ?', stays: 'in-its-place' },
  {
    what: 'shares',
    sql: `(SELECT s.address FROM drive_share s UNION ALL SELECT d.address FROM document_share d) AS shared
          WHERE shared.address = ?`,
    stays: 'in-its-place',
  },
  { what: 'outside-mail', sql: 'post_mail x WHERE x.sender = ?', stays: null },
  { what: 'trail', sql: 'trail_entry t WHERE t.actor = ?', stays: 'proof-of-acts' },
];

/** What is kept about one person, shown and deleted on their request. */
@Injectable()
export class PersonDataService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly holds: LegalHolds,
    private readonly counts: DeskCounts,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async look(typed: string): Promise<PersonData> {
    const address = typed.trim().toLowerCase();
    const held = await this.holds.isHeldPerson(address);
    const parts = await Promise.all(
      COUNTS.map(async ({ what, sql, stays }) => ({
        ...{ what, stays: held ? ('held' as const) : stays },
        count: await this.count(sql, address),
      })),
    );
    const name = (await this.people.namesOf([address])).get(address)?.name ?? address;
    return { address, name, held, parts: parts.filter(({ count }) => count > 0) };
  }

  /** Deletes what may go. What is under a legal hold or not decided yet stays, with everything that belongs to it. */
  async remove(typed: string): Promise<PersonData> {
    const address = typed.trim().toLowerCase();
    if (await this.holds.isHeldPerson(address))
      throw new AppError('act-refused', 'This person is under a legal hold. Nothing was deleted.');
    const mine = `m.personAddress = ? AND NOT ${IS_HELD}`;
    await this.inBatches(
      `movement m JOIN incident n ON n.movementId = m.id WHERE ${mine} AND n.status = 'decided'`,
      address,
      deleteIncidents,
    );
    await this.inBatches(
      `movement m WHERE ${mine} AND m.incidentNumber IS NULL
         AND NOT EXISTS (SELECT 1 FROM pending_movement w WHERE w.movementId = m.id)`,
      address,
      deleteMovements,
    );
    await this.inBatches(
      `movement m JOIN journal j ON j.movementId = m.id WHERE ${mine}`,
      address,
      async (manager, ids) => {
        if (ids.length === 0) return;
        await manager.query(`DELETE FROM journal WHERE movementId IN (${marks(ids)})`, [...ids]);
        await renewKeys(manager, this.config.keys, ids);
      },
    );
    await this.manager.transaction((manager) => deleteOwn(manager, address));
    // The address still stands among the texts that counts keep in memory.
    await this.counts.rebuild();
    return this.look(address);
  }

  private async inBatches(
    sql: string,
    address: string,
    remove: (manager: EntityManager, ids: readonly string[]) => Promise<void>,
  ): Promise<void> {
    for (let isMore = true; isMore;) {
      const found: { id: string }[] = await this.manager.query(
        `SELECT m.id AS id FROM ${sql} LIMIT ${BATCH}`,
        [address],
      );
      const ids = found.map(({ id }) => id);
      if (ids.length > 0)
        await this.manager.transaction(async (manager) => {
          // A hold that was put on since they were found counts.
          const held: { id: string }[] = await manager.query(
            `SELECT m.id AS id FROM movement m WHERE m.id IN (${marks(ids)}) AND ${IS_HELD}`,
            ids,
          );
          const kept = new Set(held.map(({ id }) => id));
          await remove(
            manager,
            ids.filter((id) => !kept.has(id)),
          );
        });
      isMore = ids.length === BATCH;
    }
  }

  private async count(sql: string, address: string): Promise<number> {
    const [row]: { n: string }[] = await this.manager.query(`SELECT COUNT(*) AS n FROM ${sql}`, [address]);
    return Number(row?.n ?? 0);
  }
}

/** What the stand-ins and the second factor keep of somebody. */
async function deleteOwn(manager: EntityManager, address: string): Promise<void> {
  await manager.query(
    `DELETE FROM mail_message WHERE id IN (SELECT id FROM (
       SELECT x.id FROM ${MAIL_OF_OWNERS} WHERE o.address = ?) AS theirs)`,
    [address],
  );
  await manager.query('DELETE FROM mail_file WHERE id NOT IN (SELECT fileId FROM mail_attachment)');
  await manager.query(
    "DELETE f FROM post_file f JOIN post x ON x.id = f.postId WHERE x.author = ? AND x.state <> 'waiting'",
    [address],
  );
  await manager.query("DELETE FROM post WHERE author = ? AND state <> 'waiting'", [address]);
  await manager.query('DELETE FROM person_factor WHERE personAddress = ?', [address]);
  await manager.query('DELETE FROM person_passkey WHERE personAddress = ?', [address]);
  await manager.query(`DELETE x FROM assistant_talk x WHERE x.person = ? AND ${TALK_IS_OVER}`, [address]);
  await manager.query(
    `DELETE x FROM flow_run x JOIN person o ON o.id = x.player
     WHERE o.address = ? AND x.state IN ('done', 'stopped')`,
    [address],
  );
  await manager.query('DELETE FROM standing_approval WHERE person = ?', [address.toLowerCase()]);
  await manager.query('DELETE FROM raised_trust WHERE personAddress = ?', [address]);
  await manager.query('DELETE FROM post_mail WHERE sender = ?', [address]);
  await manager.query(
    'DELETE e FROM discovery_evidence e JOIN discovery_item i ON i.id = e.itemId WHERE i.owner = ?',
    [address],
  );
  await manager.query(
    `UPDATE discovery_fetch e JOIN discovery_item i ON i.id = e.itemId SET e.sealed = NULL, e.state = 'deleted'
     WHERE i.owner = ? AND e.sealed IS NOT NULL`,
    [address],
  );
}
