import {
  type ChannelSettingRequest,
  type ChannelView,
  UNFINISHED_CHOICES,
  type UnfinishedChoice,
} from '@lantern/contracts';
import { type Channel, CHANNELS } from '@lantern/core/movement';
import { CHANNEL_ABILITIES } from '@lantern/core/policy';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { ChannelSettingEntity } from './channel-setting.entity.js';

/** Until somebody chooses otherwise: what can wait waits, what cannot is stopped, and a machine stays of use. */
const FIRST: Readonly<Record<Channel, UnfinishedChoice>> = {
  mail: 'hold',
  chat: 'block',
  drive: 'hold',
  browser: 'block',
  endpoint: 'let-go',
  business: 'hold',
};

/** Somebody who waits at a screen waits less than a mail does. */
const FIRST_SECONDS: Readonly<Record<Channel, number>> = {
  mail: 30,
  chat: 15,
  drive: 30,
  browser: 15,
  endpoint: 15,
  business: 30,
};

/** What happens on each channel to a movement whose reading did not finish: never chance. */
@Injectable()
export class ChannelSettings implements OnModuleInit {
  private settings = new Map<Channel, ChannelSettingEntity>();

  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  async onModuleInit(): Promise<void> {
    const found = await this.manager.find(ChannelSettingEntity);
    this.settings = new Map(found.map((setting) => [setting.channel, setting]));
  }

  unfinished(channel: Channel): UnfinishedChoice {
    return this.settings.get(channel)?.unfinished ?? FIRST[channel];
  }

  /** Time for reading one movement, in seconds. */
  seconds(channel: Channel): number {
    return this.settings.get(channel)?.seconds ?? FIRST_SECONDS[channel];
  }

  list(): ChannelView[] {
    return CHANNELS.map((channel) => ({
      channel,
      unfinished: this.unfinished(channel),
      seconds: this.seconds(channel),
      choices: UNFINISHED_CHOICES.filter((choice) => isAble(channel, choice)),
    }));
  }

  async set(channel: Channel, { unfinished, seconds }: ChannelSettingRequest): Promise<ChannelView[]> {
    if (!isAble(channel, unfinished))
      throw new AppError('invalid-request', `Nothing can be held on the channel "${channel}".`);
    const setting = { channel, unfinished, seconds: seconds ?? this.seconds(channel) };
    await this.manager.save(ChannelSettingEntity, setting);
    this.settings.set(channel, setting);
    return this.list();
  }
}

function isAble(channel: Channel, choice: UnfinishedChoice): boolean {
  return choice === 'let-go' || CHANNEL_ABILITIES[channel].answers[choice] === true;
}
