import type { FileKind, MovedFile } from '@lantern/core/movement';
import { pictureSize } from './picture.js';
import { looksLikeTar } from './tar.js';

/** Kinds that a file can be told to be by its first bytes, as far as a name can lie about them. */
type Kind = 'PDF' | 'archive' | 'document' | 'compound' | 'rich text' | 'picture' | 'program' | 'text';

/** What endings claim; those that are not here claim nothing. */
const CLAIMS: Readonly<Record<Kind, readonly string[]>> = {
  PDF: ['pdf'],
  archive: ['zip', 'tar', 'gz', 'tgz'],
  document: ['docx', 'docm', 'xlsx', 'xlsm', 'pptx', 'pptm', 'odt', 'ods', 'odp'],
  compound: ['doc', 'xls', 'ppt', 'msg'],
  'rich text': ['rtf'],
  picture: ['png', 'jpg', 'jpeg', 'gif', 'bmp', 'webp', 'tif', 'tiff'],
  program: ['exe', 'dll'],
  text: ['txt', 'csv', 'tsv', 'log', 'md', 'json', 'xml', 'yaml', 'yml', 'html', 'htm', 'eml', 'ics', 'vcf'],
};
const CLAIM_OF = new Map(
  Object.entries(CLAIMS).flatMap(([kind, endings]) =>
    endings.map((ending) => [ending, kind as Kind] as const),
  ),
);

/** What a file is called when its name says something else. */
const TRUTHS: Readonly<Record<Kind, string>> = {
  PDF: 'in truth a PDF',
  archive: 'in truth an archive',
  document: 'in truth an office document',
  compound: 'in truth an old or locked office document',
  'rich text': 'in truth rich text',
  picture: 'in truth a picture',
  program: 'in truth a program',
  text: 'in truth text',
};

/** Endings that programs themselves write with contents of another kind: nobody hides anything by it. */
const USUAL: readonly (readonly [ending: string, kind: Kind])[] = [
  ['doc', 'rich text'],
  ['doc', 'text'],
  ['xls', 'text'],
];

/**
 * What bytes are when the ending of their name claims another kind, as a piece of their path; nothing where both agree
 * or either cannot be told.
 */
export function otherThanNamed(bytes: Uint8Array, name: string): string | undefined {
  const ending = /\.([A-Za-z0-9]{2,5})$/.exec(name)?.[1]?.toLowerCase() ?? '';
  const claim = CLAIM_OF.get(ending);
  if (claim === undefined || bytes.length === 0) return undefined;
  const kind = kindOf(bytes);
  if (kind === undefined || kind === claim) return undefined;
  if (USUAL.some(([usual, other]) => usual === ending && other === kind)) return undefined;
  // Locked office documents are compound files, and all others are archives.
  if (claim === 'document' && kind === 'compound') return undefined;
  const packed = (each: Kind): boolean => each === 'archive' || each === 'document';
  return packed(claim) && packed(kind) ? undefined : TRUTHS[kind];
}

const begins = (bytes: Uint8Array, text: string): boolean =>
  [...text].every((character, index) => bytes[index] === character.charCodeAt(0));

/** Units looked at to tell text from other bytes. */
const PROBE = 512;

function kindOf(bytes: Uint8Array): Kind | undefined {
  if (begins(bytes, '%PDF-')) return 'PDF';
  if (begins(bytes, 'PK\x03\x04') || begins(bytes, 'PK\x05\x06')) return officeOrArchive(bytes);
  if (begins(bytes, '\x1f\x8b') || looksLikeTar(bytes)) return 'archive';
  if (begins(bytes, '\xd0\xcf\x11\xe0')) return 'compound';
  if (begins(bytes, '{\\rtf')) return 'rich text';
  if (begins(bytes, 'MZ') || begins(bytes, '\x7fELF')) return 'program';
  if (pictureSize(bytes)) return 'picture';
  const probe = bytes.subarray(0, PROBE);
  // Junk stands in front of some PDFs.
  if (Buffer.from(probe).includes('%PDF-')) return 'PDF';
  return probe.every((byte) => byte >= 32 || byte === 9 || byte === 10 || byte === 13 || byte === 12)
    ? 'text'
    : undefined;
}

/** Names of the parts that office documents have stand in their archive uncompressed. */
function officeOrArchive(bytes: Uint8Array): Kind {
  const all = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return all.includes('[Content_Types].xml') || all.includes('META-INF/manifest.xml')
    ? 'document'
    : 'archive';
}

const FILE_KIND: Readonly<Record<Kind, FileKind>> = {
  PDF: 'pdf',
  archive: 'archive',
  document: 'office',
  compound: 'office',
  'rich text': 'office',
  picture: 'picture',
  program: 'program',
  text: 'text',
};

/** What a file is by its bytes, for rules that ask. */
export function fileFacts(name: string, bytes: Uint8Array): MovedFile {
  const kind = kindOf(bytes);
  return {
    name,
    kind: kind === undefined ? 'other' : FILE_KIND[kind],
    bytes: bytes.length,
    misnamed: otherThanNamed(bytes, name) !== undefined,
  };
}
