import type { JournalSettingRequest, JournalView } from '@lantern/contracts';
import { type Channel, CHANNELS, type InspectedMovement } from '@lantern/core/movement';
import { Inject, Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../platform/config.js';
import { renewKeys } from '../platform/keys/renew-keys.js';
import { IS_HELD } from '../platform/legal-hold/held.js';
import { sealJson } from '../platform/sealing.js';
import { JournalEntity, JournalSettingEntity } from './journal.entity.js';
import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import { journalEntry } from './journal-entry.js';

/** Used until somebody chooses otherwise: long enough to judge a draft over a month. */
const FIRST_SETTING = { keeps: 'content', days: 45 } as const;
/** What is too old goes once an hour. */
const SWEEP_MS = 3_600_000;
/** Rows of one transaction: what is left of each movement is sealed anew in it. */
const SWEPT_AT_ONCE = 200;
const DAY_MS = 86_400_000;

/** Keeps movements for replay, as each channel's setting says, and lets them go when their days are over. */
@Injectable()
export class JournalService implements OnModuleInit, OnApplicationShutdown {
  private settings = new Map<Channel, JournalSettingEntity>();
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.readSettings();
    this.timer = setInterval(() => void this.sweep().catch(() => undefined), SWEEP_MS).unref();
    await this.sweep();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  keepsContent(channel: Channel): boolean {
    return this.settingOf(channel).keeps === 'content';
  }

  /** The row of one movement, sealed as the setting of its channel says. */
  async sealed(entry: {
    readonly id: string;
    /** The data key of the movement. */
    readonly key: Buffer;
    readonly movement: InspectedMovement;
    readonly texts: readonly (string | null)[];
    readonly revision: number | null;
  }): Promise<JournalEntity> {
    const { id, key, movement, revision } = entry;
    const kept = journalEntry(movement, this.keepsContent(movement.channel) ? entry.texts : null);
    return {
      movementId: id,
      channel: movement.channel,
      at: new Date(movement.at),
      revision,
      hasContent: kept.texts !== null,
      sealed: await sealJson(key, SEALED_OF_MOVEMENT.journal.place(id), kept.movement),
      sealedTexts: kept.texts && (await sealJson(key, SEALED_OF_MOVEMENT.journalTexts.place(id), kept.texts)),
    };
  }

  async view(): Promise<JournalView[]> {
    const rows = await this.manager
      .createQueryBuilder(JournalEntity, 'j')
      .select('j.channel', 'channel')
      .addSelect('COUNT(*)', 'movements')
      .addSelect('SUM(j.hasContent)', 'withContent')
      .addSelect('MIN(j.at)', 'oldest')
      .groupBy('j.channel')
      .getRawMany<{ channel: string; movements: string; withContent: string; oldest: Date | null }>();
    return CHANNELS.map((channel) => {
      const row = rows.find((each) => each.channel === channel);
      const { keeps, days } = this.settingOf(channel);
      return {
        channel,
        keeps,
        days,
        movements: Number(row?.movements ?? 0),
        withContent: Number(row?.withContent ?? 0),
        oldest: row?.oldest ? new Date(row.oldest).toISOString() : null,
      };
    });
  }

  /** Takes effect at once: content that is no longer to be kept is not kept from the next movement on. */
  async set(channel: Channel, { keeps, days }: JournalSettingRequest): Promise<JournalView[]> {
    await this.manager.save(JournalSettingEntity, { channel, keeps, days });
    await this.readSettings();
    await this.sweep();
    return this.view();
  }

  async readSettings(): Promise<void> {
    const found = await this.manager.find(JournalSettingEntity);
    this.settings = new Map(found.map((setting) => [setting.channel, setting]));
  }

  private settingOf(channel: Channel): Pick<JournalSettingEntity, 'keeps' | 'days'> {
    return this.settings.get(channel) ?? FIRST_SETTING;
  }

  private async sweep(): Promise<void> {
    for (const channel of CHANNELS) {
      const before = new Date(Date.now() - this.settingOf(channel).days * DAY_MS);
      // What is under a legal hold stays, however old it is.
      for (let isMore = true; isMore;) isMore = (await this.sweepSome(channel, before)) === SWEPT_AT_ONCE;
    }
  }

  private sweepSome(channel: Channel, before: Date): Promise<number> {
    return this.manager.transaction(async (manager) => {
      const rows: { id: string }[] = await manager.query(
        `SELECT j.movementId AS id FROM journal j LEFT JOIN movement m ON m.id = j.movementId
         WHERE j.channel = ? AND j.at < ? AND (m.id IS NULL OR NOT ${IS_HELD}) LIMIT ${SWEPT_AT_ONCE}`,
        [channel, before],
      );
      const ids = rows.map(({ id }) => id);
      if (ids.length === 0) return 0;
      await manager.delete(JournalEntity, ids);
      await renewKeys(manager, this.config.keys, ids);
      return ids.length;
    });
  }
}
