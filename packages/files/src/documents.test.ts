import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { docxFile, emlFile, xlsxFile, zipFile } from '@lantern/testkit';
import { Document, DeletedTextRun, InsertedTextRun, Packer, Paragraph, TextRun } from 'docx';
import ExcelJS from 'exceljs';
import { degrees, PDFDocument, StandardFonts } from 'pdf-lib';
import PDFKitDocument from 'pdfkit';
import pptxgen from 'pptxgenjs';
import tar from 'tar-stream';
import { Budget } from './budget.js';
import type { ReadPart } from './part.js';
import { readFile } from './read-file.js';
import { stopRecognition } from './recognition.js';

const read = (bytes: Uint8Array, name = 'x', budget?: Budget) => readFile({ name, bytes }, budget);
const shown = (parts: readonly ReadPart[]): string[] =>
  parts.map(
    (part) => `${part.path.slice(1).join(' › ')}: ${part.status === 'read' ? part.text.trim() : part.reason}`,
  );

/** What parts are within their file, by their places; running text is left out. */
const inners = (parts: readonly ReadPart[]): Record<string, string> =>
  Object.fromEntries(
    parts.flatMap((part) =>
      part.status === 'read' && part.inner ? [[part.path.slice(1).join(' › '), part.inner]] : [],
    ),
  );

GlobalFonts.registerFromPath(
  join(
    dirname(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/package.json')),
    'ttf/DejaVuSans.ttf',
  ),
  'Scanned',
);

/** A page of text as a picture, as a scanner makes it. */
function scan(lines: readonly string[]): Buffer {
  const canvas = createCanvas(1_240, 1_754);
  const context = canvas.getContext('2d');
  context.fillStyle = '#fdfcf8';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.fillStyle = '#222222';
  context.font = '34px Scanned';
  lines.forEach((line, index) => context.fillText(line, 120, 200 + index * 70));
  return canvas.toBuffer('image/png');
}

afterAll(() => stopRecognition());

describe('PDF, written by pdf-lib', () => {
  async function pdfFile(
    pages: readonly (readonly string[])[],
    change: (file: PDFDocument) => Promise<void> = async () => {},
  ) {
    const file = await PDFDocument.create();
    const font = await file.embedFont(StandardFonts.Helvetica);
    for (const lines of pages) {
      const page = file.addPage([400, 400]);
      lines.forEach((line, index) => {
        line
          .split('\t')
          .forEach((cell, column) =>
            page.drawText(cell, { x: 20 + column * 120, y: 360 - index * 20, size: 11, font }),
          );
      });
    }
    await change(file);
    return Buffer.from(await file.save());
  }

  it('reads pages that are scans, and takes no page with text and a picture for one', async () => {
    const bytes = await pdfFile(
      [['Page 3'], Array.from({ length: 6 }, () => 'A letter with its own text.')],
      async (file) => {
        const picture = await file.embedPng(scan(['Card number', '4539 1488 0343 6467', 'Signed in Merrow']));
        // In two halves and moved about, as some programs store their scans.
        const [first, second] = file.getPages();
        first?.drawImage(picture, { x: 0, y: 0, width: 400, height: 400 });
        second?.drawImage(picture, { x: 20, y: 20, width: 360, height: 300 });
        const page = file.addPage([595, 842]);
        page.drawImage(picture, { x: 595, y: 0, width: 842, height: 595, rotate: degrees(90) });
        page.setRotation(degrees(90));
      },
    );
    const parts = shown(await read(bytes));
    const found = parts.find((part) => part.startsWith('page 1 › picture: '));
    expect(found).toContain('4539 1488 0343 6467');
    expect(parts.filter((part) => part.startsWith('page 2'))).toEqual([
      expect.stringContaining('A letter with its own text.'),
    ]);
    expect(parts.find((part) => part.startsWith('page 3 › picture: '))).toContain('4539 1488 0343 6467');
  });

  it('says of a scan without text that it was looked into, and of a small picture nothing', async () => {
    const bytes = await pdfFile([['Only a stamp']], async (file) => {
      const picture = await file.embedPng(scan([]));
      file.getPages()[0]?.drawImage(picture, { x: 300, y: 300, width: 60, height: 60 });
      file.addPage([595, 842]).drawImage(picture, { x: 0, y: 0, width: 595, height: 842 });
    });
    const parts = shown(await read(bytes));
    expect(parts.filter((part) => part.startsWith('page 1'))).toEqual(['page 1: Only a stamp']);
    expect(parts).toContain('page 2 › picture: ');
  });

  it('reads pages, cells, properties, form fields and attachments', async () => {
    const bytes = await pdfFile(
      [['Name\tCard number', 'Ada\t4539148803436467'], ['second page']],
      async (file) => {
        file.setTitle('Refunds of May');
        const field = file.getForm().createTextField('iban');
        field.setText('DE89370400440532013000');
        field.addToPage(file.getPage(1), { x: 20, y: 100 });
        await file.attach(await xlsxFile('S', [['passport', 'P123']]), 'inner.xlsx');
      },
    );
    const parts = shown(await read(bytes, 'named.pdf'));
    expect(parts).toEqual(
      expect.arrayContaining([
        'page 1: Name\tCard number\nAda\t4539148803436467',
        'page 2: second page',
        'page 2 › comments and fields: iban: DE89370400440532013000',
        expect.stringContaining('properties: '),
        'inner.xlsx › sheet S: passport\tP123',
      ]),
    );
    expect(parts.join()).toContain('Title: Refunds of May');
  });

  it('leaves the bytes it was given as they are', async () => {
    const bytes = await pdfFile([['once']]);
    const before = Buffer.from(bytes);
    await read(bytes);
    expect(before.equals(bytes)).toBe(true);
  });

  it.each([
    ['cut in half', async () => (await pdfFile([['x'.repeat(50)]])).subarray(0, 300)],
    ['whose pages lead in a circle', () => Promise.resolve(Buffer.from(CIRCLE, 'latin1'))],
  ])('says that one %s is damaged', async (_name, make) => {
    const parts = await read(await make());
    expect(parts.some((part) => part.status === 'unreadable' && part.reason === 'corrupt')).toBe(true);
  });

  it('finds one behind junk in front of it', async () => {
    const bytes = Buffer.concat([Buffer.from([0, 1, 2, 10]), await pdfFile([['behind']])]);
    expect(shown(await read(bytes))).toContain('page 1: behind');
  });
});

describe('PDF, written by pdfkit', () => {
  const locked = (options: PDFKit.PDFDocumentOptions): Promise<Buffer> => {
    const file = new PDFKitDocument(options);
    file.text('card 4539 1488 0343 6467');
    file.end();
    return buffer(file as unknown as Readable);
  };

  it.each(['1.4', '1.7', '1.7ext3'] as const)(
    'says that one with a password is encrypted (version %s)',
    async (pdfVersion) => {
      const bytes = await locked({ pdfVersion, userPassword: 'sesame' });
      expect(await read(bytes)).toEqual([{ status: 'unreadable', path: ['x'], reason: 'encrypted' }]);
    },
  );

  it('reads one that everybody may open and only its owner may change', async () => {
    const bytes = await locked({
      pdfVersion: '1.7',
      ownerPassword: 'sesame',
      permissions: { copying: false },
    });
    expect(shown(await read(bytes))).toContain('page 1: card 4539 1488 0343 6467');
  });
});

describe('a name that says something else than the content', () => {
  const pdf = () => PDFDocument.create().then((file) => file.save());
  const docx = () => docxFile({ paragraphs: ['secret'] });
  it.each([
    ['holiday.jpg', docx, 'in truth an office document'],
    ['notes.txt', docx, 'in truth an office document'],
    ['report.docx', pdf, 'in truth a PDF'],
    ['table.csv', async () => zipFile({ 'a.txt': Buffer.from('secret') }), 'in truth an archive'],
    ['scan.png', async () => Buffer.from('card 4539 1488 0343 6467'), 'in truth text'],
    ['page.pdf', async () => Buffer.from('MZ\x90\0\x03'), 'in truth a program'],
  ])('is told of %s', async (name, make, truth) => {
    const parts = await read(await make(), name);
    expect(parts.length).toBeGreaterThan(0);
    for (const part of parts) expect(part.path.slice(0, 2)).toEqual([name, truth]);
  });

  it.each([
    ['report.docx', docx],
    ['report.zip', docx],
    ['report', docx],
    ['report.final', pdf],
    ['letter.doc', async () => Buffer.from('{\\rtf1 hello}')],
    ['export.xls', async () => Buffer.from('a\tb\n1\t2')],
    ['notes.eml', async () => Buffer.from('only text')],
    ['page.pdf', async () => Buffer.concat([Buffer.from('junk\n'), Buffer.from(await pdf())])],
    ['empty.png', async () => Buffer.alloc(0)],
  ])('is not told of %s', async (name, make) => {
    const parts = await read(await make(), name);
    expect(parts.flatMap(({ path }) => path).join()).not.toContain('in truth');
  });

  it('is told inside an archive too', async () => {
    const parts = await read(await zipFile({ 'cover.gif': Buffer.from(await docx()) }), 'a.zip');
    expect(parts[0]?.path.slice(0, 3)).toEqual(['a.zip', 'cover.gif', 'in truth an office document']);
  });
});

/** A page tree whose only child is itself. */
const CIRCLE = `%PDF-1.4
1 0 obj <</Type/Catalog/Pages 2 0 R>> endobj
2 0 obj <</Type/Pages/Kids[2 0 R]/Count 1>> endobj
trailer <</Root 1 0 R>>
%%EOF`;

describe('office documents', () => {
  it('tells pending edits and hidden text of a docx apart from its text', async () => {
    const at = { id: 1, author: 'A', date: '2026-01-01T00:00:00Z' };
    const bytes = await Packer.toBuffer(
      new Document({
        title: 'Plan of the crossing',
        sections: [
          {
            children: [
              new Paragraph({
                children: [
                  new TextRun('stays '),
                  new InsertedTextRun({ text: 'new ', ...at }),
                  new DeletedTextRun({ text: 'gone 4539148803436467', ...at }),
                  new TextRun({ text: 'unseen', vanish: true }),
                ],
              }),
            ],
          },
        ],
      }),
    );
    const all = await read(new Uint8Array(bytes));
    expect(inners(all)).toEqual({ 'text › pending deletion': 'pending-edit' });
    const parts = shown(all);
    expect(parts).toEqual(
      expect.arrayContaining([
        'text: stays new',
        'text › pending deletion: gone 4539148803436467',
        'text › hidden text: unseen',
        expect.stringContaining('title: Plan of the crossing'),
      ]),
    );
  });

  it('reads hidden sheets, rows and columns once each, comments and objects of a workbook', async () => {
    const book = new ExcelJS.Workbook();
    const page = book.addWorksheet('Open');
    page.addRow(['Name', 'Card', 'Note']);
    page.addRow(['Ada', '4111', 'a']);
    page.addRow(['Bea', '4242', 'b']).hidden = true;
    page.getColumn(3).hidden = true;
    page.getCell('A2').note = 'ask her';
    const secret = book.addWorksheet('Secret');
    secret.addRow(['PIN', '9876']);
    secret.state = 'veryHidden';
    const all = await read(new Uint8Array(await book.xlsx.writeBuffer()));
    expect(inners(all)).toEqual({
      'sheet Open': 'cell',
      'sheet Open › hidden rows and columns': 'cell',
      'sheet Secret › hidden': 'cell',
      comments: 'comment',
    });
    const parts = shown(all);
    expect(parts).toEqual(
      expect.arrayContaining([
        'sheet Open: Name\tCard\tNote\nAda\t4111',
        'sheet Open › hidden rows and columns: Name\tCard\tNote\n\t\ta\nBea\t4242\tb',
        'sheet Secret › hidden: PIN\t9876',
        'comments: A2: ask her',
      ]),
    );
  });

  it('reads slides, tables and speaker notes of a presentation written by pptxgenjs', async () => {
    const show = new pptxgen();
    const slide = show.addSlide();
    slide.addText('Results of May', { x: 1, y: 1 });
    slide.addTable([
      [{ text: 'Name' }, { text: 'Card' }],
      [{ text: 'Ada' }, { text: '4111' }],
    ]);
    slide.addNotes('do not say 4539148803436467');
    const hidden = show.addSlide();
    hidden.addText('kept back');
    hidden.hidden = true;
    const bytes = (await show.write({ outputType: 'nodebuffer' })) as Buffer;
    const all = await read(bytes);
    expect(inners(all)).toMatchObject({ 'speaker notes 1': 'note' });
    expect(inners(all)).not.toHaveProperty('slide 1');
    const parts = shown(all);
    expect(parts.find((part) => part.startsWith('slide 1:'))).toMatch(
      /Results of May\s+Name \tCard \t\s+Ada \t4111/,
    );
    expect(parts).toEqual(expect.arrayContaining(['slide 2 › hidden: kept back']));
    expect(parts.find((part) => part.startsWith('speaker notes 1'))).toContain('do not say 4539148803436467');
  });

  const NAMES =
    'xmlns:office="o" xmlns:text="t" xmlns:table="b" xmlns:draw="d" xmlns:style="s" xmlns:presentation="p" xmlns:dc="c" xmlns:meta="m"';
  const odf = (content: string, more: Record<string, Buffer> = {}) =>
    zipFile({
      mimetype: Buffer.from('application/vnd.oasis.opendocument'),
      'content.xml': Buffer.from(`<office:document-content ${NAMES}>${content}</office:document-content>`),
      ...more,
    });

  it('reads text, tables, comments and pending edits of an OpenDocument text (OASIS OpenDocument 1.3, part 3)', async () => {
    const bytes = odf(
      `<office:body><office:text><text:tracked-changes><text:changed-region><text:deletion><text:p>gone</text:p></text:deletion></text:changed-region></text:tracked-changes>
      <text:p>Dear<text:s text:c="2"/>all<text:tab/>x<office:annotation><dc:creator>B</dc:creator><text:p>ask Bea</text:p></office:annotation></text:p>
      <table:table table:name="T"><table:table-row><table:table-cell><text:p>Name</text:p></table:table-cell><table:table-cell><text:p>4111</text:p></table:table-cell></table:table-row></table:table></office:text></office:body>`,
      {
        'meta.xml': Buffer.from(
          `<office:document-meta ${NAMES}><dc:title>Plan</dc:title><meta:user-defined meta:name="Case">77</meta:user-defined></office:document-meta>`,
        ),
      },
    );
    const parts = await read(bytes);
    expect(inners(parts)).toEqual({ 'pending deletion': 'pending-edit', comments: 'comment' });
    expect(shown(parts)).toEqual([
      'pending deletion: gone',
      'text: Dear  all\tx\nName \t4111',
      'comments: ask Bea',
      'properties: title: Plan\nCase: 77',
    ]);
  });

  it('reads sheets and slides with notes, and tells an encrypted one', async () => {
    const sheet =
      odf(`<office:automatic-styles><style:style style:name="h"><style:table-properties table:display="false"/></style:style></office:automatic-styles><office:body><office:spreadsheet>
      <table:table table:name="A"><table:table-row><table:table-cell table:number-columns-repeated="2"/><table:table-cell><text:p>1</text:p></table:table-cell></table:table-row></table:table>
      <table:table table:name="B" table:style-name="h"><table:table-row><table:table-cell><text:p>2</text:p></table:table-cell></table:table-row></table:table></office:spreadsheet></office:body>`);
    expect(shown(await read(sheet))).toEqual(['sheet A: 1', 'sheet B › hidden: 2']);
    const show = odf(
      '<office:body><office:presentation><draw:page><text:p>one</text:p><presentation:notes><text:p>aside</text:p></presentation:notes></draw:page></office:presentation></office:body>',
    );
    expect(shown(await read(show))).toEqual(['slide 1: one', 'speaker notes 1: aside']);
    const locked = odf('', {
      'META-INF/manifest.xml': Buffer.from('<manifest><encryption-data/></manifest>'),
    });
    expect(await read(locked)).toEqual([{ status: 'unreadable', path: ['x'], reason: 'encrypted' }]);
  });

  it('reads objects inside documents under the name of their place', async () => {
    const bytes = zipFile({
      'word/document.xml': Buffer.from(
        '<w:document xmlns:w="w"><w:p><w:r><w:t>outer</w:t></w:r></w:p></w:document>',
      ),
      'word/embeddings/sheet.xlsx': await xlsxFile('S', [['inner', '4111']]),
    });
    expect(shown(await read(bytes))).toEqual(
      expect.arrayContaining(['object sheet.xlsx › sheet S: inner\t4111']),
    );
  });
});

describe('rich text (RTF specification 1.9.1)', () => {
  it('reads text in its code page, Unicode with fallbacks, tables, notes and hidden text', async () => {
    const source = String.raw`{\rtf1\ansi\ansicpg1251{\fonttbl{\f0 Times;}}{\info{\title Plan}{\author Bea}}{\*\generator Some;}
\'cf\'f0\'e8\'e2\'e5\'f2\par \u8364?100 \uc2\u26085??x\par{\trowd Name\cell 4111\cell\row}{\v unseen}{\header Internal}{\footnote below}a\{b\}}`;
    const parts = await read(Buffer.from(source, 'latin1'));
    expect(shown(parts)).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^text: Привет\n€100 日x\nName\t4111\t\na\{b\}$/),
        'text › hidden text: unseen',
        'header: Internal',
        'footnotes: below',
        expect.stringMatching(/^properties: Plan\s+Bea$/),
      ]),
    );
  });

  it.each([
    ['unclosed', '{\\rtf1 a'],
    ['closed twice', '{\\rtf1 a}}'],
    ['too deep', `{\\rtf1 ${'{'.repeat(600)}`],
  ])('says that one %s is damaged', async (_name, source) => {
    expect(await read(Buffer.from(source))).toMatchObject([{ status: 'unreadable', reason: 'corrupt' }]);
  });
});

describe('archives and boxes', () => {
  const pack = async (files: Readonly<Record<string, Buffer>>): Promise<Buffer> => {
    const archive = tar.pack();
    for (const [name, content] of Object.entries(files)) archive.entry({ name }, content);
    archive.finalize();
    return buffer(archive as unknown as Readable);
  };

  it('reads tape archives, compressed ones, and what is nested in them', async () => {
    const inner = await pack({ 'b.txt': Buffer.from('inner') });
    const bytes = gzipSync(await pack({ 'a.txt': Buffer.from('outer'), 'in.tgz': gzipSync(inner) }));
    expect(shown(await read(bytes, 'x.tar.gz'))).toEqual([
      'x.tar › a.txt: outer',
      'x.tar › in.tgz › in.tar › b.txt: inner',
    ]);
  });

  it('stops at bombs and says so', async () => {
    const bomb = gzipSync(Buffer.alloc(8_000_000, 'a'));
    expect(await read(bomb, 'x.gz', new Budget(1_000_000))).toMatchObject([{ reason: 'expands-too-far' }]);
    const cut = (await pack({ 'a.txt': Buffer.from('kept'), 'b.txt': Buffer.alloc(5_000, 'b') })).subarray(
      0,
      2_500,
    );
    expect(shown(await read(cut))).toEqual(['a.txt: kept', ': corrupt']);
    expect(await read(gzipSync(Buffer.from('text')).subarray(0, 15))).toMatchObject([{ reason: 'corrupt' }]);
  });

  it('reads every mail of a box (RFC 4155)', async () => {
    const mails = await Promise.all(
      ['one', 'two'].map((text) =>
        emlFile({ from: 'a@b.example', to: ['c@d.example'], subject: text, text: `${text}\n>From here` }),
      ),
    );
    const box = Buffer.concat(
      mails.flatMap((mail) => [
        Buffer.from('From a@b.example Mon Nov 23 10:00:00 2026\n'),
        mail,
        Buffer.from('\n\n'),
      ]),
    );
    const parts = shown(await read(box));
    expect(parts).toEqual(expect.arrayContaining(['mail 1 › subject: one', 'mail 2 › subject: two']));
    expect(parts.filter((part) => part.includes('› body'))).toHaveLength(2);
  });

  it('reads folded and escaped lines of cards and calendars (RFC 6350, RFC 5545)', async () => {
    const card =
      'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ada Brandt\r\nNOTE:card 4539 1488\r\n  0343 6467\\, old\r\nTEL;TYPE=work:+49 30 1\r\nEND:VCARD\r\n';
    const [part] = await read(Buffer.from(card));
    expect(part?.status === 'read' && part.text).toContain(
      'NOTE: card 4539 1488 0343 6467, old\nTEL work: +49 30 1',
    );
  });

  it('reads JSON by its fields, escapes included, and lists as tables', async () => {
    const [part] = await read(
      Buffer.from('{"iban":"DE89\\u0033700","rows":[{"card":"4111","n":1},{"card":"4242","n":2}]}'),
    );
    expect(part?.status === 'read' && part.text.trim()).toBe('iban: DE893700\ncard\tn\n4111\t1\n4242\t2');
    const [broken] = await read(Buffer.from('{"iban": "DE89'));
    expect(broken).toMatchObject({ status: 'read', text: '{"iban": "DE89' });
  });

  it('reads what a page hides', async () => {
    const page =
      '<!doctype html><title>T</title><!-- card 4111 --><input type="hidden" name="iban" value="DE89"><p>shown</p>';
    const parts = shown(await read(Buffer.from(page)));
    expect(parts).toEqual(expect.arrayContaining([expect.stringMatching(/^hidden: card 4111\niban: DE89$/)]));
  });
});

describe('pictures', () => {
  it('reads printed text out of a picture with nothing outside', async () => {
    const fonts = createRequire(import.meta.url).resolve(
      '@fontsource-variable/atkinson-hyperlegible-mono/package.json',
    );
    GlobalFonts.registerFromPath(
      join(dirname(fonts), 'files/atkinson-hyperlegible-mono-latin-wght-normal.woff2'),
      'Printed',
    );
    const canvas = createCanvas(900, 140);
    const context = canvas.getContext('2d');
    context.fillStyle = 'white';
    context.fillRect(0, 0, 900, 140);
    context.fillStyle = 'black';
    context.font = '40px Printed';
    context.fillText('Card 4539 1488 0343 6467', 20, 85);
    const parts = await read(canvas.toBuffer('image/png'), 'scan.png');
    expect(shown(parts).join().replace(/\s/g, '')).toContain('4539148803436467');
    const inside = zipFile({
      'word/document.xml': Buffer.from('<d/>'),
      'word/media/image1.png': canvas.toBuffer('image/png'),
    });
    expect(shown(await read(inside)).join()).toContain('object image1.png › picture: Card');
  }, 90_000);

  it.each([
    [
      'German',
      ['Die Führerscheinnummer für das Gepäck ist', 'nicht mit der Prämie zu bezahlen'],
      'Führerscheinnummer für',
    ],
    [
      'Spanish',
      ['El número de la señora está por año', 'para una montaña más que con los niños'],
      'señora está',
    ],
    ['Ukrainian', ['Номер картки та адреса для покупця', 'це не є рахунок'], 'Номер картки'],
    ['Greek', ['Ο αριθμός της κάρτας είναι εδώ', 'και το όνομα για την πληρωμή'], 'αριθμός της κάρτας'],
  ])('reads a picture in %s', async (_, lines, wanted) => {
    const parts = await read(scan([...lines, '4539 1488 0343 6467']), 'scan.png');
    const text = shown(parts).join();
    expect(text).toContain(wanted);
    expect(text).toContain('4539 1488 0343 6467');
  });

  it('goes on after one that is damaged', async () => {
    const canvas = createCanvas(100, 100);
    const damaged = canvas.toBuffer('image/png').subarray(0, 60);
    const parts = await read(zipFile({ 'a.png': damaged, 'b.txt': Buffer.from('still read') }));
    expect(shown(parts)).toContain('b.txt: still read');
    expect(parts[0]).toMatchObject({ status: 'unreadable' });
  }, 90_000);
});

it('reads a document that another program calls something else', async () => {
  expect(shown(await read(await docxFile({ paragraphs: ['inside'] }), 'photo.jpg'))).toContain(
    'in truth an office document › text: inside',
  );
});
