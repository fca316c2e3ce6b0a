/** Texts too large to be held, read in pieces: together they are the whole, and what stands at a border is seen once. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import iconv from 'iconv-lite';
import { PIECE_BYTES, piecesOf, readPiece } from './large-text.js';

const folder = mkdtempSync(join(tmpdir(), 'large-text-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function fileOf(bytes: Buffer, name = 'log.txt'): string {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
}

const pieces = (path: string, size: number) =>
  Array.from({ length: piecesOf(size) }, (_, number) => {
    const piece = readPiece(path, number);
    if (!piece) throw new Error('No text');
    const { text, from, to } = piece;
    return { ...piece, before: text.slice(0, from), own: text.slice(from, to), after: text.slice(to) };
  });

const LINE = 'Überfahrt nach Saltwick, 12 € je Gepäckstück 𝄞 wie immer\r\n';

it.each(['utf8', 'utf-16le', 'utf-16be', 'windows-1252'])('whole in %s, line by line', (encoding) => {
  const line = encoding === 'windows-1252' ? LINE.replace('𝄞', '') : LINE;
  const block = iconv.encode(line.repeat(10_000), encoding);
  const copies = Math.ceil((PIECE_BYTES * 2.3) / block.length);
  const bytes = Buffer.concat(Array.from({ length: copies }, () => block));
  const found = pieces(fileOf(bytes), bytes.length);
  expect(found.length).toBe(3);
  expect(found.map(({ own }) => own.length % line.length)).toEqual([0, 0, 0]);
  expect(found.reduce((sum, { own }) => sum + own.length, 0)).toBe(line.length * 10_000 * copies);
  expect(found.every(({ own }) => own.startsWith(line) && own.endsWith(line))).toBe(true);
  expect(found[1]?.before.endsWith(line)).toBe(true);
  expect(found[1]?.after.startsWith(line)).toBe(true);
});

it('whole where a line has no end, and no character is cut', () => {
  const text = '€𝄞ä'.repeat(Math.ceil((PIECE_BYTES * 1.4) / 9));
  const bytes = Buffer.from(text);
  const found = pieces(fileOf(bytes), bytes.length);
  expect(found.map(({ own }) => own).join('') === text).toBe(true);
});

it('finds what stands on a border once, by the heading of its table', () => {
  const scanner = compileScanner(READY_PATTERNS);
  const card = '4539148803436467';
  const row = (number: number) => `Guest ${number},${number % 997 === 0 ? card : 'none'},Saltwick\r\n`;
  const lines = ['Guest,Card number,Place\r\n'];
  for (let number = 1, length = 0; length < PIECE_BYTES * 1.2; number += 1) {
    lines.push(row(number));
    length += lines.at(-1)?.length ?? 0;
  }
  const wanted = lines.filter((line) => line.includes(card)).length;
  const bytes = Buffer.from(lines.join(''));
  let found = 0;
  for (const { text, from, to } of pieces(fileOf(bytes, 'guests.csv'), bytes.length)) {
    const { findings } = scanner.scan(text);
    found += findings.filter(
      ({ pattern, start, certainty }) =>
        pattern === 'payment-card' && certainty >= 80 && start >= from && start < to,
    ).length;
  }
  expect(found).toBe(wanted);
});

it.each([
  ['a PDF', Buffer.from('%PDF-1.7\n1 0 obj\n')],
  ['zeros', Buffer.alloc(100_000)],
  ['a picture', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13])],
])('takes %s for no text', (_, bytes) => expect(readPiece(fileOf(bytes, 'other'), 0)).toBeNull());
