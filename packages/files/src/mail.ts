import PostalMime, { type Address, type Attachment } from 'postal-mime';
import { hiddenHtml, htmlText } from './html.js';
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

const HEADER_LINE =
  /^(?:from|to|subject|date|message-id|mime-version|return-path|received|content-type|delivered-to):/im;
/** A header block opens the file, each line a field or the fold of one (RFC 5322, 2.2). */
const HEADER_BLOCK = /^(?:From [^\r\n]*\r?\n)?(?:[!-9;-~]{1,76}:[^\r\n]*(?:\r?\n[ \t][^\r\n]*)*\r?\n){2,}/;

/** Whether bytes open like an internet message. */
export function looksLikeMail(start: string): boolean {
  const block = HEADER_BLOCK.exec(start)?.[0];
  return block !== undefined && (block.match(new RegExp(HEADER_LINE, 'gim'))?.length ?? 0) >= 2;
}

/** Longest head of a mail or of one of its parts, in bytes; mail programs make a few thousand. */
const MAX_HEAD_BYTES = 128 * 1024;
/** Deepest multipart nesting that is followed; mail programs make four. */
const MAX_MULTIPART_DEPTH = 64;

/** Takes a mail apart. Unknown encodings are read as well as they can be; a nested mail comes as an attachment. */
export async function openMail(bytes: Uint8Array): Promise<MailContent> {
  const parser = new PostalMime({
    forceRfc822Attachments: true,
    attachmentEncoding: 'arraybuffer',
    maxNestingDepth: MAX_MULTIPART_DEPTH,
    maxHeadersSize: MAX_HEAD_BYTES,
  });
  const mail = await parser.parse(bytes);
  const plain = mail.text ?? '';
  const html = mail.html === undefined ? '' : htmlText(mail.html);
  const texts = [{ name: 'body', text: plain }];
  if (squeeze(html) !== squeeze(plain))
    texts.push({ name: plain.trim() === '' ? 'body' : 'formatted body', text: html });
  if (mail.html !== undefined) texts.push({ name: 'hidden in the body', text: hiddenHtml(mail.html) });
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
