import type { Activity, PersonNotice } from '@lantern/contracts';
import {
  type Channel,
  CHANNEL_ABILITIES,
  type Connection,
  evaluate,
  type InspectedMovement,
  isUnder,
  type ItemOnItsWay,
  labelledBy,
  type LinkKind,
  type Machine,
  type MovedLabel,
  type NetworkState,
  NO_POLICIES,
  type PartRole,
  type Recipient,
  type Spot,
  type StandingLabel,
  strength,
  targetsOf,
  type Verdict,
} from '@lantern/core';
import { fileFacts } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { EarlierMovements } from '../incidents/earlier-movements.js';
import type { JudgedMovement } from '../incidents/recorder.service.js';
import { InspectionService } from '../inspection/inspection.service.js';
import { MAX_KEPT_TEXT } from '../journal/journal-entry.js';
import { labelsOf } from '../labels/published-labels.js';
import { factsOf, PeopleService } from '../people/people.service.js';
import type { PersonEntity } from '../people/person.entity.js';
import { PublishedRevision } from '../policies/published-revision.js';
import { ChannelSettings } from './channel-settings.service.js';
import { LabelsOfFiles } from './labels-of-files.service.js';
import { personNotice } from './person-notice.js';

/** One attempt to move data, as a channel puts it. */
export interface Attempt {
  readonly channel: Channel;
  readonly activity: Activity;
  /** Somebody of the directory, or only an address. */
  readonly person: PersonEntity | { readonly address: string };
  readonly at: Date;
  readonly to: readonly string[];
  /** Those of `to` who are outside whatever their address. */
  readonly guests?: readonly string[];
  readonly texts: readonly {
    readonly role: PartRole;
    readonly path: readonly string[];
    readonly text: string;
  }[];
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** Labels that come along on its parts. Left out where nobody has looked yet: they are read out of the files. */
  readonly labels?: readonly MovedLabel[];
  /** The label of the whole; left out where it has none of its own. */
  readonly own?: ItemOnItsWay['own'];
  readonly from?: readonly Spot[];
  readonly into?: readonly Spot[];
  readonly link?: LinkKind;
  readonly connection?: Connection;
  readonly machine?: Machine;
  readonly network?: NetworkState;
}

export type JudgedAttempt = JudgedMovement & {
  readonly notice: PersonNotice | null;
  /** The label with which the whole goes on, automatic rules asked; null for none, or where nothing carries one. */
  readonly label: StandingLabel | null;
};

/** Where a verdict leaves a movement before anybody replies or decides. */
export function stateAfter({ answer }: Pick<Verdict, 'answer'>): 'went-on' | 'waiting' | 'refused' {
  if (answer === 'block') return 'refused';
  return answer === 'ask' || answer === 'hold' ? 'waiting' : 'went-on';
}

/** The one way from an attempt to a verdict, for every channel. Writes nothing. */
@Injectable()
export class Door {
  constructor(
    private readonly people: PeopleService,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
    private readonly earlier: EarlierMovements,
    private readonly settings: ChannelSettings,
    private readonly labels: LabelsOfFiles,
  ) {}

  /** Inspects and judges by the revision that is in force as it begins. */
  async judge(attempt: Attempt): Promise<JudgedAttempt> {
    const revision = this.published.current;
    const document = revision?.document ?? { patterns: [], ...NO_POLICIES };
    const { parts: inspected, finished } = await this.inspection.inspectWhole({
      texts: attempt.texts,
      files: attempt.files.map(({ name, bytes }) => ({ role: 'attachment', name, bytes })),
      keepTexts: MAX_KEPT_TEXT,
    });
    const { person, at } = attempt;
    const contentDigest = this.earlier.digestOf(
      attempt.texts.map(({ text }) => text),
      attempt.files,
    );
    const known = isKnown(person) ? person : null;
    const parts = inspected.map(({ part }) => part);
    const files = attempt.files.map(({ name, bytes }) => fileFacts(name, bytes));
    const recipients = await this.recipients(attempt);
    const sender = known ? factsOf(known) : { address: person.address };
    const labels = labelsOf(revision?.document);
    const { movement, label } = labelledBy(labels, {
      ...wayOf(attempt),
      channel: attempt.channel,
      at: at.getTime(),
      sender,
      recipients,
      ...(attempt.link === 'whole-house' ? { readers: await this.people.count() } : {}),
      parts,
      files,
      labels: attempt.labels ?? (await this.labels.carriedBy(attempt.files)),
      earlier: await this.earlier.of(person.address, at, { document, contentDigest }),
    });
    const verdict = this.unlessUnfinished(evaluate(document, movement), movement.channel, finished);
    const silent = verdict.answer === null || verdict.answer === 'note';
    const labelledFor = labels.automatic.find(({ id }) => id === label?.rule)?.content ?? [];
    const reader = { ...movement.sender, language: known?.language ?? 'en', labelledFor };
    return {
      movement,
      person: { name: known?.name ?? person.address, department: known?.department ?? '' },
      at,
      inspected,
      verdict,
      revision: revision?.number ?? null,
      contentDigest,
      set: document,
      activity: attempt.activity,
      label,
      notice: silent ? null : forReader(personNotice(movement, verdict, document, reader), known),
    };
  }

  /** Where reading did not finish, what is stated for the channel holds, unless a rule is stronger. */
  private unlessUnfinished(verdict: Verdict, channel: Channel, finished: boolean): Verdict {
    if (finished) return verdict;
    const choice = this.settings.unfinished(channel);
    const answer = choice === 'let-go' ? 'note' : choice;
    const able = CHANNEL_ABILITIES[channel].answers[answer] === true ? answer : 'block';
    const stronger = verdict.answer !== null && strength(verdict.answer) >= strength(able);
    return stronger
      ? { ...verdict, unfinished: true }
      : { ...verdict, answer: able, decidedBy: null, unfinished: true };
  }

  /**
   * People, whoever a link opens for, and sites and devices that data is put into: one that is not the organisation's
   * counts as a recipient outside, so that rules about direction hold on every channel.
   */
  private async recipients(attempt: Attempt): Promise<Recipient[]> {
    const people = await this.people.recipients(attempt.to);
    const guests = new Set(attempt.guests ?? []);
    const { domains } = await this.people.getOrganisation();
    const targets = targetsOf(attempt, (host) => !domains.some((domain) => isUnder(host, domain)));
    return [
      ...people.map((person) => (guests.has(person.address) ? { ...person, outside: true } : person)),
      ...targets,
    ];
  }
}

/** Whoever the directory does not know asks nobody of the house to let something go. */
function forReader(notice: PersonNotice | null, known: PersonEntity | null): PersonNotice | null {
  return notice && (known ? notice : { ...notice, override: null });
}

export function isKnown(person: PersonEntity | { readonly address: string }): person is PersonEntity {
  return 'id' in person;
}

function wayOf({ from, into, link, connection, machine, network, own }: Attempt): Partial<InspectedMovement> {
  return {
    ...(own ? { own: { id: String(own.label.id), name: own.label.name, how: own.how } } : {}),
    ...(from && from.length > 0 ? { from } : {}),
    ...(into && into.length > 0 ? { into } : {}),
    ...(link ? { link } : {}),
    ...(connection ? { connection } : {}),
    ...(machine ? { machine } : {}),
    ...(network ? { network } : {}),
  };
}
