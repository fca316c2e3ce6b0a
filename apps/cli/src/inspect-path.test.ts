import { mkdtemp, mkdir, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { docxFile, xlsxFile } from '@lantern/testkit';
import { bytesOf } from './bytes-of.js';
import { filesBelow } from './files-below.js';
import { inspectFile } from './inspect-path.js';

const scanner = compileScanner(READY_PATTERNS);
const choices = { json: true, showValues: false, minCertainty: 50, specimens: null, paths: [] };
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'lantern-inspect-'));
  await mkdir(join(folder, 'below'));
  await writeFile(join(folder, 'b.txt'), 'card 4539 1488 0343 6467');
  await writeFile(join(folder, 'below', 'a.txt'), '');
  await symlink(folder, join(folder, 'below', 'round'));
});
afterAll(() => rm(folder, { recursive: true }));

const inspect = (bytes: Uint8Array, over: object = {}) =>
  inspectFile('x', bytes, scanner, { ...choices, ...over });

describe('filesBelow', () => {
  it('names every file once and follows no link round in circles', async () => {
    const found: string[] = [];
    for (const path of filesBelow(folder)) found.push(path.slice(folder.length + 1));
    expect(found).toEqual(['b.txt', 'below/a.txt']);
  });
});

describe('inspectFile', () => {
  it('masks values unless told otherwise, with offsets in the extracted text', async () => {
    const bytes = bytesOf(join(folder, 'b.txt'));
    expect(await inspect(bytes)).toMatchObject({
      status: 'read',
      characters: 24,
      findings: [{ pattern: 'payment-card', start: 5, end: 24, text: '•••• •••• •••• 6467' }],
    });
    expect((await inspect(bytes, { showValues: true })).findings[0]?.text).toBe('4539 1488 0343 6467');
    expect((await inspect(bytes, { minCertainty: 100 })).findings).toEqual([]);
  });

  it('gives offsets over all texts of a document, one behind the other', async () => {
    const bytes = await docxFile({
      paragraphs: ['card 4539 1488 0343 6467'],
      header: 'card 6011 0009 9013 9424',
    });
    const line = await inspect(bytes);
    expect(line.findings).toHaveLength(2);
    const [first, second] = [...line.findings].sort((left, right) => left.start - right.start);
    expect(first && second && second.start >= first.end).toBe(true);
    expect(second?.end).toBeLessThanOrEqual(line.characters);
  });

  it('uses the heading over a column of a sheet', async () => {
    const line = await inspect(
      await xlsxFile('S', [
        ['Card number', 'x'],
        ['4539148803436467', '1'],
      ]),
    );
    expect(line.findings[0]?.evidence.map((item) => item.code)).toContain('column-heading');
  });

  it('says what cannot be read', async () => {
    expect(await inspect(Buffer.from('504b0304ffff', 'hex'))).toEqual({
      path: 'x',
      status: 'unreadable',
      reason: 'corrupt',
      characters: 0,
      findings: [],
    });
  });
});
