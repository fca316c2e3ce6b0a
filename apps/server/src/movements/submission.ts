import type { Activity, IntakeVerdict, PersonNotice } from '@lantern/contracts';
import type { Effect, ItemOnItsWay, Label, StandingLabel } from '@lantern/core/labels';
import type {
  ApplicationUse,
  Channel,
  Connection,
  HandledInMovement,
  HandledPlace,
  LinkKind,
  Machine,
  MovedLabel,
  NetworkState,
  PartRole,
  Spot,
} from '@lantern/core/movement';
import { proofAsked, type Severity, type Verdict } from '@lantern/core/policy';
import type { EntityManager } from 'typeorm';
import type { OpenedMail } from '@lantern/files/inspect';
import type { PersonEntity } from '../directory/person.entity.js';
import type { JudgedMovement } from './recorder.service.js';

/** One movement as a door, an agent or a stand-in hands it in. */
export interface Submission {
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
  /** A mail as it came (RFC 5322), in the place of texts and files. */
  readonly mail?: Uint8Array;
  /** Labels of its parts where the submitter keeps them itself; left out, they are read out of the files. */
  readonly labels?: readonly MovedLabel[];
  /** The label of the whole; left out where it has none of its own, or where it stands in the head of the mail. */
  readonly own?: ItemOnItsWay['own'];
  /** Gives the label of the whole once the labels of its parts are read; may refuse. */
  readonly chooses?: (ofParts: readonly Label[]) => ItemOnItsWay['own'];
  /** Labelled items that it handles, where the submitter knows their owners; left out, they are read out of the files. */
  readonly handles?: readonly HandledInMovement[];
  /** Labelled places in which what is moved lies. */
  readonly places?: readonly HandledPlace[];
  /** What it does in terms of labels, where the activity does not say so. */
  readonly effects?: readonly Effect[];
  /** When the item was made; left out where it is made as it moves. */
  readonly made?: Date;
  readonly from?: readonly Spot[];
  readonly into?: readonly Spot[];
  readonly link?: LinkKind;
  readonly connection?: Connection;
  readonly machine?: Machine;
  readonly network?: NetworkState;
  /** Title of the window in which it is done. */
  readonly window?: string;
  /** What the screen showed around it; kept with an incident alone. */
  readonly pictures?: readonly { readonly at: Date; readonly bytes: Uint8Array }[];
  /** What is done in a business application. */
  readonly use?: ApplicationUse;
  /** Another system found it: it is recorded as an incident of that severity, and no rule of ours is asked. */
  readonly reportedBy?: { readonly name: string; readonly severity: Severity };
  /** It happened already: it is recorded, and nothing holds it back or asks anybody. */
  readonly happened?: boolean;
}

/** A submission after it was judged: nothing of it is written down yet. */
export type JudgedSubmission = JudgedMovement & {
  readonly notice: PersonNotice | null;
  /** The label with which the whole goes on, automatic rules asked; null for none, or where nothing carries one. */
  readonly label: StandingLabel | null;
  /** The label of the whole before automatic rules were asked. */
  readonly own: ItemOnItsWay['own'];
  /** Labels of its parts. */
  readonly partLabels: readonly MovedLabel[];
  /** The mail as its readers see it, where a whole mail was handed in and could be read. */
  readonly mail: OpenedMail | null;
};

/** Who hands in a movement, and the key by which the same is known again. */
export interface SubmittedBy {
  /** Id of an agent, or the name of a door or stand-in. */
  readonly submitter: string;
  readonly key: string;
}

/**
 * What a submitter does with a verdict. `demand` throws where the submitter may not submit this; a submission that is
 * judged already is answered without asking it. `prepare` runs before anything is written and may wait for workers; `apply`
 * runs in the transaction that records the movement: a message is kept, a share is made, a mail is queued.
 */
export interface SubmitterWork<Prepared> {
  readonly demand?: () => void;
  readonly prepare?: (verdict: IntakeVerdict, judged: JudgedSubmission) => Promise<Prepared>;
  readonly apply?: (
    manager: EntityManager,
    verdict: IntakeVerdict,
    given: { readonly judged: JudgedSubmission; readonly prepared: Prepared },
  ) => Promise<void>;
}

/** Learns of outcomes of its own submissions, within the transaction that writes them down. */
export type OutcomeListener = (manager: EntityManager, verdict: IntakeVerdict) => Promise<void>;

/** What an activity does with a labelled item (the effects of labels). */
export const EFFECT_OF: Readonly<Record<Activity, Effect>> = {
  send: 'pass-on',
  write: 'pass-on',
  share: 'pass-on',
  upload: 'pass-on',
  paste: 'take-out',
  type: 'take-out',
  copy: 'make-another',
  print: 'make-another',
  capture: 'take-out',
  export: 'take-out',
  read: 'read',
  'sign-in': 'read',
  connect: 'pass-on',
  question: 'take-out',
  answer: 'read',
};

/** Where a verdict leaves a movement before anybody replies or decides. */
export function stateAfter(
  verdict: Pick<Verdict, 'answer'> & Partial<Pick<Verdict, 'treatments' | 'believed' | 'happened'>>,
): 'went-on' | 'waiting' | 'refused' {
  const { answer, treatments = [], believed = false, happened = false } = verdict;
  if (happened) return 'went-on';
  if (answer === 'block') return 'refused';
  if (proofAsked({ answer, treatments, believed })) return 'waiting';
  return answer === 'ask' || answer === 'hold' ? 'waiting' : 'went-on';
}

export function isKnown(person: Submission['person']): person is PersonEntity {
  return 'id' in person;
}
