import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { judgeFolder } from './specimens.js';

let folder: string;
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'specimens-'))));
afterEach(() => rm(folder, { recursive: true }));
const put = (name: string, content: unknown) =>
  writeFile(join(folder, name), typeof content === 'string' ? content : JSON.stringify(content));

describe('judgeFolder', () => {
  it('holds files to what stands beside them', async () => {
    await put('letter.txt', 'Card number 4539 1488 0343 6467');
    await put('letter.txt.expected.json', { 'payment-card': ['4539148803436467'], iban: [] });
    await put('order.txt', 'Card number 4539 1488 0343 6467');
    await put('order.txt.expected.json', { 'payment-card': [] });
    expect(await judgeFolder(folder)).toMatchObject([
      { specimen: 'letter.txt', pattern: 'payment-card', kept: true },
      { specimen: 'letter.txt', pattern: 'iban', kept: true },
      {
        specimen: 'order.txt',
        pattern: 'payment-card',
        kept: false,
        outcome: { extra: ['4539148803436467'] },
      },
    ]);
  });

  it('takes own patterns of the folder', async () => {
    const weights = { shape: 3, namingWord: 0, supportingWord: 0, counterWord: 0 };
    const exclusions = { values: [], words: [], ranges: [] };
    const words = { namingWords: [], supportingWords: [], counterWords: [], wordDistance: 40 };
    const own = {
      origin: 'expression',
      id: 'b',
      name: 'B',
      kind: 'own-expression',
      about: '',
      check: 'none',
    };
    await put('patterns.json', [
      { ...own, expression: 'MS-\\d{6}', caseMatters: true, ...words, exclusions, weights },
    ]);
    await put('a.txt', 'MS-104233');
    await put('a.txt.expected.json', { b: ['MS-104233'] });
    expect(await judgeFolder(folder)).toMatchObject([{ pattern: 'b', kept: true }]);
  });

  it('says which one cannot be judged and goes on', async () => {
    await put('gone.txt.expected.json', {});
    await put('odd.txt', 'x');
    await put('odd.txt.expected.json', '{"payment-card": "4111"}');
    await put('good.txt', 'nothing');
    await put('good.txt.expected.json', { 'payment-card': [] });
    const lines = await judgeFolder(folder);
    expect(lines).toMatchObject([
      { specimen: 'gone.txt', fault: expect.stringContaining('no file') },
      { specimen: 'good.txt', kept: true },
      { specimen: 'odd.txt', fault: expect.stringContaining('lists of texts') },
    ]);
  });
});
