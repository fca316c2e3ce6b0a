import { docxFile, emlFile, xlsxFile, zipBomb, zipFile } from '@lantern/testkit';
import iconv from 'iconv-lite';
import { Budget } from './budget.js';
import { MAX_FILE_BYTES, MAX_NESTING_DEPTH } from './limits.js';
import type { ReadPart } from './part.js';
import { readFile } from './read-file.js';

const read = (name: string, bytes: Uint8Array, budget?: Budget) => readFile({ name, bytes }, budget);
const shown = (parts: ReadPart[]) =>
  parts.map((part) => `${part.path.join(' › ')}: ${part.status === 'read' ? part.text.trim() : part.reason}`);

/** The head of a PNG (ISO/IEC 15948, 11.2.2) that claims a size. */
function pngHead(width: number, height: number): Buffer {
  const head = Buffer.from('89504e470d0a1a0a0000000d49484452000000000000000008020000000000000000', 'hex');
  head.writeUInt32BE(width, 16);
  head.writeUInt32BE(height, 20);
  return head;
}

describe('readFile on text', () => {
  it.each([
    ['utf-8', Buffer.from('Grüße, 日本')],
    ['utf-8 with a mark', Buffer.from('\ufeffGrüße, 日本')],
    ['utf-16 little endian with a mark', iconv.encode('Grüße, 日本', 'utf-16le', { addBOM: true })],
    ['utf-16 big endian with a mark', iconv.encode('Grüße, 日本', 'utf-16be', { addBOM: true })],
  ])('decodes %s', async (_name, bytes) => {
    expect(shown(await read('a.txt', bytes)).join()).toContain('Grüße, 日本');
  });

  it('decodes utf-16 without a mark and text of an older code page', async () => {
    expect(shown(await read('a', iconv.encode('card 4111 1111', 'utf-16le')))).toEqual(['a: card 4111 1111']);
    const prose = 'Die Überfahrt wurde wegen des Sturms für alle Gäste verschoben. Rückfragen an das Büro.';
    expect(shown(await read('a', iconv.encode(prose, 'windows-1252')))[0]).toContain('Überfahrt');
  });

  it('does not take binary bytes for text, whatever their name', async () => {
    const bytes = Buffer.from(Array.from({ length: 4000 }, (_unused, index) => (index * 7919) % 256));
    expect(shown(await read('a.txt', bytes))).toEqual(['a.txt: unsupported']);
  });

  it('reads an empty file as empty text', async () => {
    expect(shown(await read('a.txt', new Uint8Array()))).toEqual(['a.txt: ']);
  });
});

describe('readFile on documents', () => {
  it('reads paragraphs, tables, headers and comments of a docx written by another library', async () => {
    const bytes = await docxFile({
      paragraphs: ['Dear all', 'card 4111'],
      table: [
        ['Name', 'Card'],
        ['Ada', '4242'],
      ],
      header: 'Internal',
      comment: 'ask Bea',
    });
    const parts = shown(await read('misnamed.bin', bytes));
    expect(parts.join('\n')).toContain(
      'misnamed.bin › text: Dear all\ncard 4111\nName \tCard \t\nAda \t4242',
    );
    expect(parts.join('\n')).toContain('› header: Internal');
    expect(parts.join('\n')).toContain('› comments: ask Bea');
  });

  it('keeps rows and columns of a sheet and the digits of long numbers', async () => {
    const bytes = await xlsxFile('Refunds', [
      ['Booking', 'Card number'],
      ['MS-1', '4111111111111111'],
      ['', '4242424242424242'],
    ]);
    expect((await read('r.xlsx', bytes)).length).toBe(2);
    expect(shown(await read('r.xlsx', bytes)).slice(0, 1)).toEqual([
      'r.xlsx › sheet Refunds: Booking\tCard number\nMS-1\t4111111111111111\n\t4242424242424242',
    ]);
  });

  it.each([
    [
      'half of a docx',
      async () => (await docxFile({ paragraphs: ['x'.repeat(5000)] })).subarray(0, 3000),
      'corrupt',
    ],
    [
      'a docx whose text is no XML',
      () => zipFile({ 'word/document.xml': Buffer.from('<w:p><w:t>open') }),
      'corrupt',
    ],
    [
      'a password-protected office file',
      () =>
        Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.from('EncryptedPackage', 'utf16le')]),
      'encrypted',
    ],
    [
      'an encrypted archive',
      () => zipFile({ 'a.txt': Buffer.from('secret') }, { encrypted: true }),
      'encrypted',
    ],
    ['a picture without its data', () => pngHead(0, 0), 'corrupt'],
    ['a picture of 200 megapixels', () => pngHead(20_000, 10_000), 'too-large'],
  ])('says what is wrong with %s', async (_name, make, reason) => {
    const parts = await read('x', await make());
    expect(parts.map((part) => part.status === 'unreadable' && part.reason)).toContain(reason);
  });

  it('does not expand entities that a document declares itself', async () => {
    const xml =
      '<!DOCTYPE d [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><w:document><w:t>&b;</w:t></w:document>';
    const parts = await read('x.docx', zipFile({ 'word/document.xml': Buffer.from(xml) }));
    expect(parts).toEqual([{ status: 'unreadable', path: ['x.docx', 'text'], reason: 'corrupt' }]);
  });
});

describe('readFile on mail', () => {
  it('reads subject, body, attachments and a mail inside the mail', async () => {
    const inner = await emlFile({
      from: 'a@b.example',
      to: ['c@d.example'],
      subject: 'Inner',
      text: 'inner card 4242',
    });
    const bytes = await emlFile({
      from: 'a@b.example',
      to: ['c@d.example'],
      subject: 'Outer',
      text: 'outer text',
      html: '<p>outer text <span style="display:none">hidden 4111</span></p>',
      attachments: [
        { filename: 'note.txt', content: Buffer.from('note') },
        { filename: 'inner.eml', content: inner, contentType: 'message/rfc822' },
      ],
    });
    const parts = shown(await read('mail', bytes));
    expect(parts).toEqual(
      expect.arrayContaining([
        'mail › subject: Outer',
        'mail › body: outer text',
        'mail › formatted body: outer text hidden 4111',
        'mail › note.txt: note',
      ]),
    );
    expect(parts.join('\n')).toContain('inner card 4242');
    expect(parts.join('\n')).toContain('Inner');
  });

  it.each(['x-no-such-charset', 'utf-8', '"; drop'])(
    'reads a body that claims the charset %s',
    async (charset) => {
      const bytes = Buffer.concat([
        Buffer.from(
          `From: a@b.example\r\nTo: c@d.example\r\nSubject: S\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=${charset}\r\n\r\n`,
        ),
        Buffer.from('card 4111 1111 1111 1111, Gr\xfc\xdfe', 'latin1'),
      ]);
      expect(shown(await read('m.eml', bytes)).join()).toContain('4111 1111 1111 1111');
    },
  );

  it('does not take prose with colons for a mail', async () => {
    expect(shown(await read('a.txt', Buffer.from('Note: this\nTodo: that\n\nText')))).toEqual([
      'a.txt: Note: this\nTodo: that\n\nText',
    ]);
  });
});

describe('readFile on archives and bombs', () => {
  it('follows archives inside archives and names the way', async () => {
    const inner = zipFile({ 'b.txt': Buffer.from('found') });
    expect(shown(await read('a.zip', zipFile({ 'inner.zip': inner, 'c.txt': Buffer.from('also') })))).toEqual(
      ['a.zip › inner.zip › b.txt: found', 'a.zip › c.txt: also'],
    );
  });

  it('stops at gigabytes inside a small file and keeps what it read before', async () => {
    const bomb = zipBomb(3);
    expect(bomb.length).toBeLessThan(MAX_FILE_BYTES);
    const parts = await read('bomb.zip', bomb, new Budget(50_000_000));
    expect(parts.filter((part) => part.status === 'read').length).toBe(5);
    expect(parts.at(-1)).toMatchObject({ status: 'unreadable', reason: 'expands-too-far' });
  });

  it('does not believe a directory that understates its sizes', async () => {
    const liar = zipFile({ 'a.txt': Buffer.alloc(5_000_000, 97) }, { claimedSize: 10 });
    expect(shown(await read('l.zip', liar))).toEqual(['l.zip › a.txt: corrupt']);
  });

  it('refuses files over the limit and nesting beyond it', async () => {
    expect(shown(await read('big', Buffer.alloc(MAX_FILE_BYTES + 1)))).toEqual(['big: too-large']);
    let nested: Buffer = Buffer.from('deep');
    for (let depth = 0; depth <= MAX_NESTING_DEPTH + 1; depth += 1) nested = zipFile({ f: nested });
    expect((await read('n', nested))[0]).toMatchObject({ status: 'unreadable', reason: 'nested-too-deep' });
  });
});
