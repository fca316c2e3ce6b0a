import type { Address, Attachment } from 'postal-mime';
import type { NamedBytes } from './part.js';

/** A mail taken apart: its own texts, and what hangs on it. */
export interface MailContent {
  readonly subject: string;
  /** Addresses of all recipient fields, lower case. */
  readonly recipients: readonly string[];
  readonly from: string;
  readonly texts: readonly { readonly name: string; readonly text: string }[];
  readonly attachments: readonly NamedBytes[];
}

/** Longest head of a mail or of one of its parts, in bytes; mail programs make a few thousand. */
const MAX_HEAD_BYTES = 128 * 1024;
/** Deepest multipart nesting that is followed; mail programs make four. */
const MAX_MULTIPART_DEPTH = 64;

/** Takes a mail apart. Unknown encodings are read as well as they can be; a nested mail comes as an attachment. */
export async function openMail(bytes: Uint8Array): Promise<MailContent> {
  const { default: PostalMime } = await import('postal-mime');
  const { readHtml } = await import('./html.js');
  const parser = new PostalMime({
    forceRfc822Attachments: true,
    attachmentEncoding: 'arraybuffer',
    maxNestingDepth: MAX_MULTIPART_DEPTH,
    maxHeadersSize: MAX_HEAD_BYTES,
  });
  const mail = await parser.parse(bytes);
  const plain = mail.text ?? '';
  const { shown: html, hidden } = readHtml(mail.html ?? '');
  const texts = [{ name: 'body', text: plain }];
  if (squeeze(html) !== squeeze(plain))
    texts.push({ name: plain.trim() === '' ? 'body' : 'formatted body', text: html });
  if (mail.html !== undefined) texts.push({ name: 'hidden in the body', text: hidden });
  return {
    subject: mail.subject ?? '',
    from: addressesOf(mail.from)[0] ?? '',
    recipients: [mail.to, mail.cc, mail.bcc].flatMap((list) => (list ?? []).flatMap(addressesOf)),
    texts: texts.filter(({ text }) => text.trim() !== ''),
    attachments: mail.attachments.map(toNamed),
  };
}

function addressesOf(entry: Address | undefined): string[] {
  if (!entry) return [];
  if (entry.group) return entry.group.flatMap(addressesOf);
  return entry.address ? [entry.address.toLowerCase()] : [];
}

function toNamed(attachment: Attachment, index: number): NamedBytes {
  const nested = attachment.mimeType === 'message/rfc822';
  const name = attachment.filename ?? (nested ? 'forwarded mail.eml' : `attachment ${index + 1}`);
  const { content } = attachment;
  return { name, bytes: typeof content === 'string' ? Buffer.from(content) : new Uint8Array(content) };
}

function squeeze(text: string): string {
  return text.replace(/\s+/g, '');
}
