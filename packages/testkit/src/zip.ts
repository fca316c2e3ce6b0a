import { crc32, deflateRawSync } from 'node:zlib';

interface StoredEntry {
  readonly name: string;
  readonly data: Buffer;
  readonly crc: number;
  readonly size: number;
  /** General purpose flags; bit 0 says encrypted (APPNOTE 4.4.4). */
  readonly flags: number;
}

/** A zip archive with the given files, optionally flagged as encrypted or with a size that lies. */
export function zipFile(
  files: Readonly<Record<string, Buffer>>,
  tricks: { encrypted?: boolean; claimedSize?: number } = {},
): Buffer {
  return assemble(
    Object.entries(files).map(([name, content]) => ({
      name,
      data: deflateRawSync(content),
      crc: checksum(content),
      size: tricks.claimedSize ?? content.length,
      flags: tricks.encrypted ? 1 : 0,
    })),
  );
}

/** A few megabytes at most that expand to `gigabytes`: ten million times one letter, many times over. */
export function zipBomb(gigabytes: number): Buffer {
  const letters = Buffer.alloc(10_000_000, 'a');
  const data = deflateRawSync(letters, { level: 9 });
  const crc = checksum(letters);
  const entries = Array.from({ length: Math.ceil(gigabytes * 100) }, (_unused, index) => ({
    name: `page-${index}.txt`,
    data,
    crc,
    size: letters.length,
    flags: 0,
  }));
  return assemble(entries);
}

function checksum(content: Buffer): number {
  return typeof crc32 === 'function' ? crc32(content) : plainChecksum(content);
}

/** CRC-32 of ISO/IEC 8802-3 for Node versions without one of their own. */
function plainChecksum(content: Buffer): number {
  let crc = 0xffffffff;
  for (const byte of content) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit += 1) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return (crc ^ 0xffffffff) >>> 0;
}

/** Local headers, central directory and its end record (APPNOTE.TXT 6.3, sections 4.3.7, 4.3.12, 4.3.16). */
function assemble(entries: readonly StoredEntry[]): Buffer {
  const files: Buffer[] = [];
  const directory: Buffer[] = [];
  let offset = 0;
  for (const entry of entries) {
    const name = Buffer.from(entry.name);
    const fields = Buffer.alloc(26);
    fields.writeUInt16LE(20, 0);
    fields.writeUInt16LE(entry.flags, 2);
    fields.writeUInt16LE(8, 4);
    fields.writeUInt32LE(entry.crc, 10);
    fields.writeUInt32LE(entry.data.length, 14);
    fields.writeUInt32LE(entry.size, 18);
    fields.writeUInt16LE(name.length, 22);
    const tail = Buffer.alloc(14);
    tail.writeUInt32LE(offset, 10);
    files.push(Buffer.from('PK\x03\x04', 'latin1'), fields, name, entry.data);
    directory.push(Buffer.from('PK\x01\x02\x14\x00', 'latin1'), fields, tail, name);
    offset += 30 + name.length + entry.data.length;
  }
  const size = directory.reduce((sum, piece) => sum + piece.length, 0);
  const end = Buffer.alloc(18);
  end.writeUInt16LE(entries.length, 4);
  end.writeUInt16LE(entries.length, 6);
  end.writeUInt32LE(size, 8);
  end.writeUInt32LE(offset, 12);
  return Buffer.concat([...files, ...directory, Buffer.from('PK\x05\x06', 'latin1'), end]);
}
