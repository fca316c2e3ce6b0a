import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { STARTER_LABELS } from '@lantern/demo';
import { setOnDisk } from '@lantern/files';
import { PIECE_BYTES } from '@lantern/files/reading';
import { inspectPieces, MOST_FINDINGS } from './inspect-pieces.js';
import { inspectPiece, type PieceLine } from './inspect-path.js';

const folder = mkdtempSync(join(tmpdir(), 'inspect-pieces-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const finding = (start: number): PieceLine['findings'][number] => ({
  ...{ pattern: 'payment-card', start, end: start + 16, certainty: 95, text: '••••', evidence: [] },
});
const tooLarge = () =>
  Promise.resolve({
    line: {
      path: 'big.pdf',
      status: 'unreadable',
      reason: 'too-large',
      characters: 0,
      findings: [],
    } as const,
  });
const done = (line: PieceLine | null) => ({ status: 'done' as const, value: { line } });

it('counts offsets over all pieces, also behind one that failed, and names that one', async () => {
  const path = join(folder, 'log.txt');
  writeFileSync(path, 'a line\n'.repeat(Math.ceil((PIECE_BYTES * 2.5) / 7)));
  let underWay = 0;
  let most = 0;
  const told = await inspectPieces(path, 3, {
    ...{ atOnce: 2, whole: tooLarge },
    inspect: async (number) => {
      underWay += 1;
      most = Math.max(most, underWay);
      await new Promise((resolve) => setTimeout(resolve, 10));
      underWay -= 1;
      return number === 1
        ? { status: 'fault', reason: 'took-too-long', name: '' }
        : done({ characters: 1_000, findings: [finding(10)] });
    },
  });
  expect(most).toBe(2);
  if (!('line' in told)) throw new Error(told.problem);
  const { findings, unreadableParts = [], characters } = told.line;
  expect(findings[0]?.start).toBe(10);
  // The second piece is as long as what stands in the file.
  const second = characters - 2_000;
  expect(Math.abs(second - PIECE_BYTES)).toBeLessThan(14);
  expect(findings[1]?.start).toBe(1_000 + second + 10);
  expect(unreadableParts).toEqual([{ path: 'piece 2 of 3', reason: 'took-too-long' }]);
});

it('lists so many findings and counts the others', async () => {
  const many = Array.from({ length: MOST_FINDINGS / 2 + 1 }, (_, at) => finding(at));
  const told = await inspectPieces('log.txt', 2, {
    ...{ atOnce: 1, whole: tooLarge },
    inspect: () => Promise.resolve(done({ characters: 9, findings: many })),
  });
  expect(told).toMatchObject({ line: { notShown: 2 } });
  expect('line' in told && told.line.findings.length).toBe(MOST_FINDINGS);
});

it('leaves a file that is not text to whoever reads it whole', async () => {
  const inspect = () => Promise.resolve(done(null));
  expect(await inspectPieces('big.pdf', 4, { atOnce: 2, inspect, whole: tooLarge })).toEqual(
    await tooLarge(),
  );
});

it('says the label that the file beside a large text holds', async () => {
  const path = join(folder, 'labelled.txt');
  writeFileSync(path, 'a line\n');
  const [label] = STARTER_LABELS.labels;
  if (!label) throw new Error('No label');
  await setOnDisk(path, label, { setBy: 'ada@merrow.example', at: 0, how: 'by-hand', owner: '' });
  const scanner = compileScanner(READY_PATTERNS);
  const choices = { json: true, showValues: false, minCertainty: 50, specimens: null, paths: [] };
  const inspect = async (number: number) => done(await inspectPiece(path, number, scanner, choices));
  expect(await inspectPieces(path, 1, { atOnce: 1, inspect, whole: tooLarge })).toMatchObject({
    line: { characters: 7, label: { name: label.name } },
  });
});
