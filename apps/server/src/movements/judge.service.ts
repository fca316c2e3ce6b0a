import type { PersonNotice } from '@lantern/contracts';
import { isUnder } from '@lantern/core/directory';
import { type EffectTerms, highest, type ItemOnItsWay, type WholeLabelSet } from '@lantern/core/labels';
import { type Channel, type Handled, type InspectedMovement, type Recipient } from '@lantern/core/movement';
import {
  CHANNEL_ABILITIES,
  judgeItem,
  NO_POLICIES,
  proofAsked,
  strength,
  targetsOf,
  type Verdict,
} from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { EarlierMovements } from '../incidents/earlier-movements.js';
import { type Inspection, InspectionService } from '../inspection/inspection.service.js';
import { MAX_KEPT_TEXT } from '../journal/journal-entry.js';
import { labelsOf } from '../published/published-labels.js';
import { factsOf, PeopleService } from '../directory/people.service.js';
import type { PersonEntity } from '../directory/person.entity.js';
import { setOf } from '../published/revision.entity.js';
import { PublishedRevision } from '../published/published-revision.js';
import { ChannelSettings } from './channels/channel-settings.service.js';
import { asHandled, asMoved, labelsCarried } from '@lantern/files/inspect';
import { personNotice } from './notice/person-notice.js';
import { PastAmounts } from './past/past-amounts.service.js';
import { StandingApprovals } from './approvals/standing-approvals.service.js';
import { Trusts } from './proof/trusts.service.js';
import { EFFECT_OF, isKnown, type JudgedSubmission, type Submission } from './submission.js';

/** What labels say about a submission before policies see it. */
interface Labelled {
  readonly own: ItemOnItsWay['own'];
  readonly parts: NonNullable<InspectedMovement['labels']>;
  readonly handled: Handled;
}

/** The one way from a submission to a verdict, for every channel: its content is read once. Writes nothing. */
@Injectable()
export class MovementJudge {
  constructor(
    private readonly people: PeopleService,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
    private readonly earlier: EarlierMovements,
    private readonly settings: ChannelSettings,
    private readonly past: PastAmounts,
    private readonly trusts: Trusts,
    private readonly approvals: StandingApprovals,
  ) {}

  /** Reads the content of a submission, within the time of its channel. */
  read(submission: Submission): Promise<Inspection> {
    return this.inspection.inspect(
      {
        texts: submission.texts,
        files: submission.files.map(({ name, bytes }) => ({ role: 'attachment', name, bytes })),
        ...(submission.mail ? { mail: submission.mail } : {}),
        keepTexts: MAX_KEPT_TEXT,
        wholeTexts: true,
      },
      this.settings.seconds(submission.channel) * 1_000,
    );
  }

  /** Reads and judges by the revision that is in force as it begins. */
  async judge(submission: Submission): Promise<JudgedSubmission> {
    return this.judgeRead(submission, await this.read(submission));
  }

  /** Judges what was read already: the same content for other recipients, or by another revision. */
  async judgeRead(submission: Submission, read: Inspection): Promise<JudgedSubmission> {
    const revision = this.published.current;
    const document = revision?.document ?? { patterns: [], ...NO_POLICIES };
    const { person, at, channel } = submission;
    const known = isKnown(person) ? person : null;
    const contentDigest = read.digest === null ? null : this.earlier.digestOf(read.digest);
    const labels = labelsOf(revision?.document);
    const labelled = await this.labelled(submission, read);
    const withoutPast: InspectedMovement = {
      ...wayOf(submission, labelled.own),
      channel,
      at: at.getTime(),
      sender: known ? factsOf(known) : { address: person.address },
      recipients: await this.recipients(submission),
      ...(submission.link === 'whole-house' ? { readers: await this.people.count() } : {}),
      parts: read.parts.map(({ part }) => part),
      files: read.files,
      labels: labelled.parts,
      ...(isAnyHandled(labelled.handled) ? { handled: labelled.handled } : {}),
      earlier: await this.earlier.of(person.address, at, { document, contentDigest }),
    };
    const movement = { ...withoutPast, ...(await this.past.of(withoutPast, document)) };
    const judged = judgeItem({ labels, policies: setOf(document) }, movement);
    const mayBeGuarded = carriesFiles(submission) && isGuardedBySome(labels, labelled.handled);
    const verdict = await this.standing(submission, judged, {
      isRead: read.finished,
      mayBeGuarded,
      contentDigest,
    });
    const labelledFor = labels.automatic.find(({ id }) => id === judged.label?.rule)?.content ?? [];
    const reader = { ...movement.sender, language: known?.language ?? 'en', labelledFor };
    return {
      movement: judged.movement,
      person: { name: known?.name ?? person.address, department: known?.department ?? '' },
      at,
      inspected: read.parts,
      verdict,
      revision: revision?.number ?? null,
      contentDigest,
      set: document,
      ownPatterns: document.patterns,
      ...(submission.reportedBy ? { reportedBy: submission.reportedBy } : { activity: submission.activity }),
      manager: known?.manager ?? null,
      label: judged.label,
      own: labelled.own,
      partLabels: labelled.parts,
      mail: read.mail,
      notice: noticeOf(judged.movement, verdict, { document, reader, known }),
    };
  }

  /** What holds in the end: for what happened already as it is, for the rest with what is allowed and believed. */
  private async standing(
    { channel, happened, reportedBy }: Submission,
    { verdict, movement }: { readonly verdict: Verdict; readonly movement: InspectedMovement },
    {
      contentDigest,
      ...read
    }: {
      readonly isRead: boolean;
      readonly mayBeGuarded: boolean;
      readonly contentDigest: string | null;
    },
  ): Promise<Verdict> {
    if (reportedBy) return REPORTED;
    const finished = this.unlessUnfinished(verdict, channel, read);
    return happened ? { ...finished, happened } : this.unlessAllowed(finished, movement, contentDigest);
  }

  /** The verdict with standing approvals and confirmed identities applied. */
  private async unlessAllowed(
    verdict: Verdict,
    movement: InspectedMovement,
    contentDigest: string | null,
  ): Promise<Verdict> {
    return this.unlessBelieved(await this.approvals.applied(verdict, movement, contentDigest), movement);
  }

  /** Marks a verdict as believed if the sender confirmed their identity recently enough. */
  private async unlessBelieved(verdict: Verdict, movement: InspectedMovement): Promise<Verdict> {
    const asked = proofAsked(verdict);
    return asked && (await this.trusts.covers(movement, asked)) ? { ...verdict, believed: true } : verdict;
  }

  /** The label of the whole, those of its parts, and what is done with labelled items. */
  private async labelled(submission: Submission, read: Inspection): Promise<Labelled> {
    const set = labelsOf(this.published.current?.document);
    const onFiles = labelsCarried(set, read.files, read.labels);
    const inHead = read.mail ? labelsCarried(set, [{ name: 'mail' }], [read.mail.labels]) : [];
    const head = highest(inHead.map(({ label }) => label));
    const chosen = submission.chooses?.(onFiles.map(({ label }) => label));
    const own = submission.own ?? chosen ?? (head && { label: head, how: 'by-hand' as const });
    const isOutside = await this.people.outsideTest();
    return {
      own,
      parts: submission.labels ?? asMoved(onFiles),
      handled: {
        effects: submission.effects ?? [EFFECT_OF[submission.activity]],
        outside: isOutside(submission.person.address),
        items: submission.handles ?? asHandled([...inHead, ...onFiles]),
        ...(submission.places?.length ? { places: submission.places } : {}),
      },
    };
  }

  /**
   * Where reading did not finish, what is stated for the channel holds, unless a rule is stronger. A file whose label
   * was not read in time, and that a label could keep from this, is not let go by anybody's setting.
   */
  private unlessUnfinished(
    verdict: Verdict,
    channel: Channel,
    { isRead, mayBeGuarded }: { readonly isRead: boolean; readonly mayBeGuarded: boolean },
  ): Verdict {
    if (isRead) return verdict;
    const choice = this.settings.unfinished(channel);
    const letGo = mayBeGuarded ? 'hold' : 'note';
    const answer = choice === 'let-go' ? letGo : choice;
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
  private async recipients(submission: Submission): Promise<Recipient[]> {
    const people = await this.people.recipients(submission.to);
    const guests = new Set(submission.guests ?? []);
    const { domains } = await this.people.getOrganisation();
    const targets = targetsOf(submission, (host) => !domains.some((domain) => isUnder(host, domain)));
    return [
      ...people.map((person) => (guests.has(person.address) ? { ...person, outside: true } : person)),
      ...targets,
    ];
  }
}

/** Whether it brings files whose labels are read out of them. */
function carriesFiles({ files, mail, labels }: Submission): boolean {
  return labels === undefined && (files.length > 0 || mail !== undefined);
}

/** Whether a published label could keep this person from one of the effects. */
function isGuardedBySome({ labels }: WholeLabelSet, { effects, outside }: Handled): boolean {
  const couldKeep = ({ kind }: EffectTerms): boolean => kind !== 'anyone' && (outside || kind !== 'inside');
  return labels.some(({ handling }) => effects.some((effect) => couldKeep(handling[effect])));
}

const isAnyHandled = ({ items, places = [] }: Handled): boolean => items.length + places.length > 0;

/** What another system reports is an incident as it says; no rule of ours is asked, and nothing is held. */
const REPORTED: Verdict = {
  ...{ answer: 'note', decidedBy: null, matches: [], treatments: [], trace: [], happened: true },
};

/** Whether the person gets no notice: for a note without a second factor, and for what already happened. */
function isToldNobody(verdict: Verdict): boolean {
  if (verdict.happened) return true;
  return (verdict.answer === null || verdict.answer === 'note') && !proofAsked(verdict);
}

/** What the person is told; null where nobody is. */
function noticeOf(
  movement: InspectedMovement,
  verdict: Verdict,
  {
    document,
    reader,
    known,
  }: {
    readonly document: Parameters<typeof personNotice>[2];
    readonly reader: Parameters<typeof personNotice>[3];
    readonly known: PersonEntity | null;
  },
): PersonNotice | null {
  if (isToldNobody(verdict)) return null;
  return forReader(personNotice(movement, verdict, document, reader), known);
}

/** Whoever the directory does not know asks nobody of the house to let something go. */
function forReader(notice: PersonNotice | null, known: PersonEntity | null): PersonNotice | null {
  return notice && (known ? notice : { ...notice, override: null });
}

function wayOf(
  { from, into, link, connection, machine, network, made, use, window }: Submission,
  own: ItemOnItsWay['own'],
): Partial<InspectedMovement> {
  return {
    ...(own ? { own: { id: String(own.label.id), name: own.label.name, how: own.how } } : {}),
    ...(from && from.length > 0 ? { from } : {}),
    ...(into && into.length > 0 ? { into } : {}),
    ...(link ? { link } : {}),
    ...(connection ? { connection } : {}),
    ...(machine ? { machine } : {}),
    ...(network ? { network } : {}),
    ...(use ? { use } : {}),
    ...(window ? { window } : {}),
    ...(made ? { made: made.getTime() } : {}),
  };
}
