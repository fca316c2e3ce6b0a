import { MAX_FILE_BYTES } from '../limits.js';
import { looksLikeMail } from '../looks-like-mail.js';
import type { NamedBytes } from '../part.js';
import { decodeText } from '../text.js';
import { writeCompanion } from './companion.js';
import {
  type FileLabels,
  type LabelToWrite,
  type LabelWriting,
  NO_FILE_LABELS,
  refused,
} from './file-label.js';

/** Each is loaded where a file of its kind is there. */
const pdfLabels = () => import('./pdf-label.js');
const mailLabels = () => import('./mail-label.js');
const officeLabels = () => import('./office-label.js');

type LabelKind = 'package' | 'pdf' | 'mail' | 'locked' | 'other';

/** Bytes looked at to tell a mail. */
const PROBE = 16_384;

const begins = (bytes: Uint8Array, text: string): boolean =>
  [...text].every((character, index) => bytes[index] === character.charCodeAt(0));

/** Where a label goes, told by content and not by name. */
function kindOf(bytes: Uint8Array): LabelKind {
  if (begins(bytes, 'PK\x03\x04')) return 'package';
  if (begins(bytes, '%PDF-')) return 'pdf';
  if (begins(bytes, '\xd0\xcf\x11\xe0')) return lockedOffice(bytes) ? 'locked' : 'other';
  const text = decodeText(bytes.subarray(0, PROBE));
  return text !== undefined && looksLikeMail(text) ? 'mail' : 'other';
}

/** An OOXML file with a password is a compound file with a stream of this name (MS-OFFCRYPTO, 1.3.2). */
function lockedOffice(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).includes(
    Buffer.from('EncryptedPackage', 'utf16le'),
  );
}

/** Reads the label out of a file, ours and what looks like one of another maker. A companion is the caller's to read. */
export async function readFileLabels({ bytes }: NamedBytes): Promise<FileLabels> {
  if (bytes.length > MAX_FILE_BYTES) return NO_FILE_LABELS;
  switch (kindOf(bytes)) {
    case 'package':
      return (await (await officeLabels()).readOfficeLabel(bytes)) ?? NO_FILE_LABELS;
    case 'pdf':
      return (await pdfLabels()).readPdfLabel(bytes);
    case 'mail':
      return (await mailLabels()).readMailLabel(bytes);
    default:
      return NO_FILE_LABELS;
  }
}

/**
 * Writes a label and its marks into a copy of a file, or takes them off where `change` is null. The given bytes stay as
 * they are. What has no room for a label is answered with a companion.
 */
export async function writeFileLabel(file: NamedBytes, change: LabelToWrite | null): Promise<LabelWriting> {
  if (file.bytes.length > MAX_FILE_BYTES) return refused('too-large');
  switch (kindOf(file.bytes)) {
    case 'package':
      return (
        (await (await officeLabels()).writeOfficeLabel(file, change)) ??
        writeCompanion(file.name, change?.label ?? null)
      );
    case 'pdf':
      return (await pdfLabels()).writePdfLabel(file, change);
    case 'mail':
      return (await mailLabels()).writeMailLabel(file, change);
    case 'locked':
      return refused('encrypted');
    default:
      return writeCompanion(file.name, change?.label ?? null);
  }
}
