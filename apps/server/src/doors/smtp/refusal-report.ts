import MimeNode from 'nodemailer/lib/mime-node/index.js';

/** What is said of a mail that some receivers do not get. */
export interface RefusedMail {
  readonly sender: string;
  /** Domain in whose name it is said. */
  readonly domain: string;
  readonly refused: readonly string[];
  /** Why, as the rule's author wrote it, on one line. */
  readonly words: string;
  /** The mail as it came in; of it, the head alone goes back. */
  readonly raw: Buffer;
  readonly at: Date;
}

/** Longest head that goes back with a report; the rest of a longer one says nothing more to anybody. */
const MAX_HEAD_BYTES = 16_384;

/** Words for people in a report. */
export function refusalWords({ refused, words }: Pick<RefusedMail, 'refused' | 'words'>): string {
  return [
    'Your mail was not delivered to:',
    ...refused.map((address) => `  ${address}`),
    '',
    words,
    '',
    'All other recipients have received it, or will when someone has decided. Do not send it to them again.',
  ].join('\r\n');
}

/**
 * A report of failed delivery (RFC 3464 in a multipart/report of RFC 6522): words for people, fields for programs, and the
 * head of the mail. It answers nothing that is itself a report: the caller sends none to an empty sender.
 */
export function refusalReport(mail: RefusedMail): Promise<Buffer> {
  const { sender, domain, refused, words, raw, at } = mail;
  const report = new MimeNode('multipart/report; report-type=delivery-status');
  report.setHeader({
    from: `Mail gateway <postmaster@${domain}>`,
    to: sender,
    subject: 'Your mail was not delivered to everyone',
    date: at.toUTCString().replace('GMT', '+0000'),
    // RFC 3834: made by a program, which nobody answers by another.
    'auto-submitted': 'auto-replied',
  });
  report.createChild('text/plain; charset=utf-8').setContent(refusalWords(mail));
  const fields = [
    `Reporting-MTA: dns; ${domain}`,
    `Arrival-Date: ${at.toUTCString().replace('GMT', '+0000')}`,
    ...refused.flatMap((address) => [
      '',
      `Final-Recipient: rfc822; ${address}`,
      'Action: failed',
      'Status: 5.7.1',
      `Diagnostic-Code: smtp; 550 5.7.1 ${ascii(words)}`,
    ]),
    '',
  ].join('\r\n');
  report.createChild('message/delivery-status').setContent(fields);
  const end = raw.indexOf('\r\n\r\n');
  const head = raw.subarray(0, Math.min(end === -1 ? raw.length : end + 2, MAX_HEAD_BYTES));
  report.createChild('text/rfc822-headers').setContent(head);
  return new Promise((resolve, reject) =>
    report.build((error: Error | null, built: Buffer) => (error ? reject(error) : resolve(built))),
  );
}

/** Fields for programs are in ASCII (RFC 3464, 2.1.2); what is not becomes a question mark. */
const ascii = (words: string): string => words.replace(/[^\x20-\x7e]/g, '?');
