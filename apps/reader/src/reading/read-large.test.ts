/** Texts larger than what is opened in one go, through the task of the reader. */
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MOST_TEXT_BYTES } from './read-large.js';
import { prepare, tasks } from './read-tasks.js';

const folder = mkdtempSync(join(tmpdir(), 'read-large-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
beforeAll(() => prepare({ own: [], wanted: ['payment-card'], labels: [], automatic: [] }));

const read = (path: string, large: number) =>
  tasks.read({
    ...{ id: 'one', path: 'log.txt', content: { kind: 'path', path, large } },
    ...{ place: { name: 'Logs', owner: 'ada@merrow.example', isOutside: false }, labels: false },
  });

it('counts what is found in all pieces, and gives excerpts of the first', async () => {
  const line = 'The crossing to Saltwick left on time with all of its guests on board.\n';
  const found = 'Paid by card 4539148803436467 at the desk.\n';
  const block = line.repeat(700) + found;
  const text = block.repeat(140);
  const path = join(folder, 'log.txt');
  writeFileSync(path, text);
  const { result } = await read(path, text.length);
  expect(result).toMatchObject({
    ...{ status: 'read', bytes: text.length, characters: text.length },
    digest: createHash('sha256').update(readFileSync(path)).digest('hex'),
  });
  expect(result.found.find(({ pattern }) => pattern === 'payment-card')).toMatchObject({ count: 140 });
  expect(result.excerpts.length).toBeGreaterThan(0);
  expect(result.excerpts.length).toBeLessThanOrEqual(40);
  expect(JSON.stringify(result)).not.toContain('4539148803436467');
  expect(result.excerpts[0]?.part).toBe('piece 1 of 4');
});

it.each([
  ['zeros that take no room', 1024 ** 4],
  ['a text longer than any', MOST_TEXT_BYTES + 1],
])('says that %s is too large', async (_, size) => {
  const path = join(folder, 'huge.bin');
  writeFileSync(path, '');
  truncateSync(path, size);
  expect((await read(path, size)).result).toMatchObject({ status: 'unreadable', reason: 'too-large' });
});
