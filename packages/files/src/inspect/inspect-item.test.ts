import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { docxFile, zipFile } from '@lantern/testkit';
import { inspectItem, type ItemToInspect } from './inspect-item.js';

const scanner = compileScanner(READY_PATTERNS);
const item = (over: Partial<ItemToInspect>): ItemToInspect => ({
  texts: [],
  files: [],
  keepTexts: 0,
  ...over,
});

describe('inspectItem', () => {
  it('keeps the order of an item and the place of every finding', async () => {
    const { parts } = await inspectItem(
      item({
        texts: [
          { role: 'subject', path: ['subject'], text: 'refund to card 4539 1488 0343 6467' },
          { role: 'body', path: ['body'], text: 'nothing' },
        ],
        files: [
          {
            role: 'attachment',
            name: 'a.docx',
            bytes: await docxFile({ paragraphs: ['card 6011 0009 9013 9424'] }),
          },
        ],
      }),
      scanner,
    );
    const places = parts.map(({ part }) => [
      part.role,
      part.path.join('/'),
      part.status === 'read' ? part.findings.length : part.reason,
    ]);
    expect(places.slice(0, 3)).toEqual([
      ['subject', 'subject', 1],
      ['body', 'body', 0],
      ['attachment', 'a.docx/text', 1],
    ]);
  });

  it('gives no text back unless asked, and then no more than asked for', async () => {
    const text = { role: 'body' as const, path: ['body'], text: 'x'.repeat(500) };
    expect((await inspectItem(item({ texts: [text] }), scanner)).parts[0]?.text).toBeNull();
    expect((await inspectItem(item({ texts: [text], keepTexts: 10 }), scanner)).parts[0]?.text).toBe(
      'xxxxxxxxxx',
    );
  });

  it('lets one bad file stop no other', async () => {
    const bad = {
      role: 'attachment' as const,
      name: 'bad.zip',
      bytes: zipFile({ x: Buffer.from('y') }).subarray(0, 20),
    };
    const good = {
      role: 'attachment' as const,
      name: 'good.txt',
      bytes: Buffer.from('card 4539 1488 0343 6467'),
    };
    const { parts } = await inspectItem(item({ files: [bad, good, bad] }), scanner);
    expect(parts.map(({ part }) => part.status)).toEqual(['unreadable', 'read', 'unreadable']);
    expect(parts[1]?.excerpts).toHaveLength(1);
  });

  it('shares one budget over all files of an item', async () => {
    const heavy = zipFile(
      Object.fromEntries(
        Array.from({ length: 6 }, (_unused, index) => [`f${index}`, Buffer.alloc(9_000_000, 'a')]),
      ),
    );
    const files = ['1.zip', '2.zip', '3.zip'].map((name) => ({
      role: 'attachment' as const,
      name,
      bytes: heavy,
    }));
    const { parts } = await inspectItem(item({ files }), scanner);
    expect(
      parts.filter(({ part }) => part.status === 'unreadable' && part.reason === 'expands-too-far').length,
    ).toBeGreaterThan(0);
    expect(parts.filter(({ part }) => part.status === 'read').length).toBeLessThan(12);
  });
});
