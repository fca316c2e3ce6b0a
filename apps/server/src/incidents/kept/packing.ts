import { unzipSync, zipSync } from 'fflate';

/** Content that is kept as it was. */
export interface ContentAsItWas {
  readonly texts: readonly { readonly role: string; readonly text: string }[];
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** A mail as it came (RFC 5322), in the place of texts and files. */
  readonly mail?: Uint8Array | undefined;
}

/** A picture of a screen. */
export interface Picture {
  readonly at: Date;
  readonly bytes: Uint8Array;
}

/** Characters that file names may not have on some systems, control characters, and those that change the writing direction. */
const UNSAFE = /[\p{Cc}\p{Bidi_Control}<>:"/\\|?*]/gu;
const LONGEST_NAME = 120;
/** Stored as it is: packing 25 MB would hold up everybody else for half a second, and most files are packed already. */
const STORED = { level: 0 } as const;

/** Bytes of the content, and how many things it is. */
export function sizeOf({ texts, files, mail }: ContentAsItWas): {
  readonly bytes: number;
  readonly items: number;
} {
  if (mail) return { bytes: mail.length, items: 1 };
  const written = texts.filter(({ text }) => text !== '');
  const bytes =
    written.reduce((sum, { text }) => sum + Buffer.byteLength(text), 0) +
    files.reduce((sum, file) => sum + file.bytes.length, 0);
  return { bytes, items: written.length + files.length };
}

/** Content as a ZIP archive whose names are safe to unpack anywhere: numbered, without folders of their own. */
export function packed({ texts, files, mail }: ContentAsItWas): Uint8Array {
  if (mail) return zipSync({ 'mail.eml': mail }, STORED);
  const entries = [
    ...texts
      .filter(({ text }) => text !== '')
      .map(({ role, text }, at) => [`text ${at + 1} ${role}.txt`, Buffer.from(text)] as const),
    ...files.map(({ name, bytes }, at) => [`file ${at + 1} ${safeName(name)}`, bytes] as const),
  ];
  return zipSync(Object.fromEntries(entries), STORED);
}

/** What {@link packed} packed; names of files are the safe ones. */
export function unpacked(archive: Uint8Array): ContentAsItWas {
  const entries = unzipSync(archive);
  const mail = entries['mail.eml'];
  if (mail && Object.keys(entries).length === 1) return { texts: [], files: [], mail };
  const texts: { role: string; text: string }[] = [];
  const files: { name: string; bytes: Uint8Array }[] = [];
  for (const [name, bytes] of Object.entries(entries)) {
    const text = /^text \d+ (\w+)\.txt$/u.exec(name);
    if (text) texts.push({ role: text[1] ?? '', text: Buffer.from(bytes).toString('utf8') });
    else files.push({ name: name.replace(/^file \d+ /u, ''), bytes });
  }
  return { texts, files };
}

function safeName(name: string): string {
  const safe = name.replaceAll(UNSAFE, '_').replace(/^[. ]+|[. ]+$/gu, '');
  if (safe.length <= LONGEST_NAME) return safe || 'file';
  // The ending says what it is.
  const ending = /\.[^.]{1,12}$/u.exec(safe)?.[0] ?? '';
  return safe.slice(0, LONGEST_NAME - ending.length) + ending;
}

/** Pictures as one archive, in their order. */
export function packedPictures(pictures: readonly Picture[]): Uint8Array {
  return zipSync(Object.fromEntries(pictures.map(({ bytes }, at) => [String(at), bytes])), STORED);
}

export function unpackedPictures(archive: Uint8Array): Uint8Array[] {
  const entries = unzipSync(archive);
  return Object.keys(entries)
    .sort((one, other) => Number(one) - Number(other))
    .map((name) => entries[name] as Uint8Array);
}

/**
 * Media type of a picture by its first bytes; null for anything else. PNG (W3C PNG, third edition, section 5.2) and JPEG
 * (ITU-T T.81, B.1.1.3: start of image, then a marker).
 */
export function pictureType(bytes: Uint8Array): 'image/png' | 'image/jpeg' | null {
  const begins = (...signature: readonly number[]) => signature.every((byte, at) => bytes[at] === byte);
  if (begins(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'image/png';
  return begins(0xff, 0xd8, 0xff) ? 'image/jpeg' : null;
}
