import { Budget } from './budget.js';
import { readDocx } from './docx.js';
import { MAX_FILE_BYTES, MAX_NESTING_DEPTH } from './limits.js';
import { htmlText, looksLikeMail, openMail } from './mail.js';
import { type NamedBytes, type ReadPart, unreadable } from './part.js';
import { decodeText } from './text.js';
import { readXlsx } from './xlsx.js';
import { expand, listZip } from './zip.js';

interface Place {
  readonly path: readonly string[];
  readonly depth: number;
  readonly budget: Budget;
}

/**
 * Reads every text out of a file, its kind told by content and not by its ending. Never throws for what the bytes
 * are: each part that cannot be read says why, and the others are read all the same.
 */
export async function readFile(file: NamedBytes, budget: Budget = new Budget()): Promise<ReadPart[]> {
  return readAt(file.bytes, { path: [file.name], depth: 0, budget });
}

async function readAt(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  if (bytes.length > MAX_FILE_BYTES) return [unreadable(place.path, 'too-large')];
  if (place.depth > MAX_NESTING_DEPTH) return [unreadable(place.path, 'nested-too-deep')];
  if (startsWith(bytes, [0x50, 0x4b, 0x03, 0x04]) || startsWith(bytes, [0x50, 0x4b, 0x05, 0x06]))
    return readContainer(bytes, place);
  if (startsWith(bytes, [0xd0, 0xcf, 0x11, 0xe0])) return [unreadable(place.path, compoundReason(bytes))];
  const text = decodeText(bytes);
  if (text === undefined || startsWith(bytes, [0x25, 0x50, 0x44, 0x46]))
    return [unreadable(place.path, 'unsupported')];
  if (looksLikeMail(text.slice(0, 16_384))) return readMail(bytes, place);
  const html = /^\s*(?:<!doctype html|<html[\s>])/i.test(text.slice(0, 1024));
  return [{ status: 'read', path: place.path, text: html ? htmlText(text) : text }];
}

function startsWith(bytes: Uint8Array, signature: readonly number[]): boolean {
  return signature.every((byte, index) => bytes[index] === byte);
}

/** A password-protected OOXML file is a compound file with a stream of this name (MS-OFFCRYPTO, 1.3.2). */
function compoundReason(bytes: Uint8Array): 'encrypted' | 'unsupported' {
  const name = Buffer.from('EncryptedPackage', 'utf16le');
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).includes(name)
    ? 'encrypted'
    : 'unsupported';
}

async function readContainer(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const listing = await listZip(bytes);
  if (listing.status === 'unreadable') return [unreadable(place.path, listing.reason)];
  const has = (name: string) => listing.entries.some((entry) => entry.name === name);
  if (has('word/document.xml')) return readDocx(listing.entries, place.path, place.budget);
  if (has('xl/workbook.xml')) return readXlsx(listing.entries, place.path, place.budget);
  if (has('[Content_Types].xml') || has('mimetype'))
    return [unreadable(place.path, has('word') ? 'corrupt' : 'unsupported')];
  const parts: ReadPart[] = [];
  for (const entry of listing.entries) {
    const path = [...place.path, entry.name];
    const expanded = await expand(entry, place.budget);
    if (expanded.status === 'unreadable') {
      parts.push(unreadable(path, expanded.reason));
      // Whatever follows would find the budget spent as well: one line says it for all.
      if (expanded.reason === 'expands-too-far') break;
    } else parts.push(...(await readAt(expanded.bytes, { ...place, path, depth: place.depth + 1 })));
  }
  return parts;
}

async function readMail(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  let mail;
  try {
    mail = await openMail(bytes);
  } catch {
    return [unreadable(place.path, 'corrupt')];
  }
  const parts: ReadPart[] = [];
  if (mail.subject !== '')
    parts.push({ status: 'read', path: [...place.path, 'subject'], text: mail.subject });
  for (const { name, text } of mail.texts) parts.push({ status: 'read', path: [...place.path, name], text });
  for (const attachment of mail.attachments) {
    const path = [...place.path, attachment.name];
    if (!place.budget.spend(attachment.bytes.length)) parts.push(unreadable(path, 'expands-too-far'));
    else parts.push(...(await readAt(attachment.bytes, { ...place, path, depth: place.depth + 1 })));
  }
  return parts;
}
