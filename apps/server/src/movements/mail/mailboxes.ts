import type { IntakeVerdict, MailFolder, PersonNotice } from '@lantern/contracts';
import type { LabelledHow } from '@lantern/core/labels';
import type { Treatment } from '@lantern/core/policy';
import type { EntityManager } from 'typeorm';

/** A label on a mail, as it was when the mail went. */
export interface MailLabel {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  readonly how: LabelledHow;
  readonly colour: string;
  /** Lines it prints above and below the text. */
  readonly top: readonly string[];
  readonly foot: readonly string[];
}

/** A file on a mail. */
export interface MailFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** A mail whose files are sealed already: once for all of its copies. */
export interface PackedMail {
  readonly at: Date;
  readonly from: string;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly { readonly name: string; readonly size: number; readonly fileId: string }[];
  readonly sealed: readonly { readonly id: string; readonly sealed: Buffer }[];
  readonly treatments: readonly Treatment[];
  readonly label?: MailLabel | null;
}

/** A copy of a mail in one mailbox. */
export interface MailCopy {
  readonly owner: string;
  readonly folder: MailFolder;
  readonly notice: PersonNotice | null;
}

/** The mailboxes of people inside, as doors of mail use them; whoever keeps mailboxes provides them. */
export abstract class Mailboxes {
  /** Seals the files of a mail, before the transaction that keeps it. */
  abstract packed(
    mail: Omit<PackedMail, 'files' | 'sealed'> & { readonly files: readonly MailFile[] },
  ): Promise<PackedMail>;

  /** Keeps a copy within the caller's transaction, and returns its id. */
  abstract keep(manager: EntityManager, mail: PackedMail, copy: MailCopy, id?: string): Promise<string>;

  /** Keeps the files of a mail, once for all of its copies. */
  abstract keepFiles(manager: EntityManager, mail: PackedMail): Promise<void>;

  /** Deletes files of a mail that no copy holds any more. */
  abstract dropFiles(manager: EntityManager, mail: Pick<PackedMail, 'files'>): Promise<void>;

  /** Puts copies into the mailboxes of receivers inside. */
  abstract deliver(manager: EntityManager, mail: PackedMail, receivers: readonly string[]): Promise<void>;

  /** Moves the sender's copy of a mail that waited to where it now belongs. */
  abstract settleCopy(
    manager: EntityManager,
    id: string,
    state: IntakeVerdict['state'],
    notice: PersonNotice | null,
  ): Promise<void>;
}
