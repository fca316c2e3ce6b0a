import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import type { Treatment } from '@lantern/core/policy';
import { marked } from './marked.js';

/** Tells programs that a mail is not to be passed on (RFC 2156, section 5.3.6: "Company-Confidential" and such). */
const SENSITIVITY = 'Sensitivity: Company-Confidential\r\n';

/** A mail of the mail window as it goes over the wire. */
export function composed(
  id: string,
  mail: {
    readonly from: string;
    readonly to: readonly string[];
    readonly subject: string;
    readonly body: string;
    readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
    readonly treatments: readonly Treatment[];
    readonly at: Date;
  },
): Promise<Buffer> {
  const noPassingOn = mail.treatments.some(({ kind }) => kind === 'no-passing-on');
  return new Promise((resolve, reject) =>
    new MailComposer({
      messageId: `<${id}@lantern.localhost>`,
      date: mail.at,
      from: mail.from,
      to: [...mail.to],
      subject: mail.subject,
      text: mail.body,
      ...(noPassingOn ? { headers: { Sensitivity: 'Company-Confidential' } } : {}),
      attachments: mail.files.map(({ name, bytes }) => ({ filename: name, content: Buffer.from(bytes) })),
    })
      .compile()
      .build((error, message) => (error ? reject(error) : resolve(message))),
  );
}

/** The bytes of a mail with what its treatments write on it; all else stays to the letter. */
export function treated(raw: Buffer, treatments: readonly Treatment[]): Buffer {
  const end = raw.indexOf('\r\n\r\n');
  const head = (end === -1 ? raw : raw.subarray(0, end + 2)).toString('latin1');
  const rest = end === -1 ? Buffer.alloc(0) : raw.subarray(end + 2);
  const passing = treatments.some(({ kind }) => kind === 'no-passing-on') && !/^sensitivity:/im.test(head);
  const withField = passing ? `${head}${SENSITIVITY}` : head;
  return Buffer.concat([Buffer.from(markedHead(withField, treatments), 'latin1'), rest]);
}

/** The words of marks before the subject, in words of their own (RFC 2047) where they need it. */
function markedHead(head: string, treatments: readonly Treatment[]): string {
  const marks = marked('', treatments).trim();
  if (marks === '') return head;
  const plain = /^[\x20-\x7e]*$/.test(marks)
    ? marks
    : `=?UTF-8?B?${Buffer.from(marks, 'utf8').toString('base64')}?=`;
  const subject = /^subject:[ \t]*/im.exec(head);
  if (!subject) return `${head}Subject: ${plain}\r\n`;
  const at = subject.index + subject[0].length;
  return head.startsWith(plain, at) ? head : `${head.slice(0, at)}${plain} ${head.slice(at)}`;
}
