import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Marking, OPEN_HANDLING, printedMarks } from '@lantern/core/labels';
import { docxFile, emlFile, xlsxFile, zipFile } from '@lantern/testkit';
import { Document, Footer, Header, Packer, Paragraph, TextRun } from 'docx';
import ExcelJS from 'exceljs';
import mammoth from 'mammoth';
import { PDFArray, PDFDocument, PDFName, StandardFonts } from 'pdf-lib';
import PDFKit from 'pdfkit';
import PostalMime from 'postal-mime';
import pptxgen from 'pptxgenjs';
import { readFile } from '../read-file.js';
import { expand, listZip } from '../zip.js';
import { Budget } from '../budget.js';
import { readCompanion } from './companion.js';
import { FIELDS, type FileLabel, type LabelToWrite, type LabelWriting } from './file-label.js';
import { readFileLabels, writeFileLabel } from './label-file.js';

const MARKINGS: readonly Marking[] = [
  { place: 'top', text: '{label} <& rank {rank}>', points: 10, colour: '#7a1f1f', slant: 0 },
  { place: 'foot', text: 'Owner {owner}', points: 8, colour: '#444444', slant: 0 },
  { place: 'across', text: '{label}', points: 60, colour: '#d9c7c7', slant: 45 },
];

function labelling(name: string, markings: readonly Marking[] = MARKINGS): LabelToWrite {
  const at = Date.UTC(2026, 10, 26);
  const file: FileLabel = {
    id: '7c1f6f0e-0000-4000-8000-000000000001',
    name,
    rank: 700,
    setBy: 'ines.sorrel@merrowstrait.example',
    setAt: new Date(at).toISOString(),
    how: 'by-hand',
  };
  const facts = { owner: 'ada@merrowstrait.example', setter: file.setBy, at, how: file.how };
  const label = {
    name,
    rank: 700,
    family: '',
    colour: '#aa3300',
    choosing: [],
    handling: OPEN_HANDLING,
    carriers: ['document' as const],
    foreign: [],
    retired: false,
  };
  return { label: file, marks: printedMarks({ ...label, markings }, facts) };
}

const pptx = async (): Promise<Buffer> => {
  const deck = new pptxgen();
  deck.addSlide().addText('Slide one', { x: 1, y: 1, w: 5, h: 1 });
  deck.addSlide().addText('Slide two', { x: 1, y: 2, w: 5, h: 1 });
  return (await deck.write({ outputType: 'nodebuffer' })) as Buffer;
};
const pdf = (options: PDFKit.PDFDocumentOptions = {}): Promise<Buffer> =>
  new Promise((resolve) => {
    const document = new PDFKit(options);
    const chunks: Buffer[] = [];
    document
      .on('data', (chunk: Buffer) => chunks.push(chunk))
      .on('end', () => resolve(Buffer.concat(chunks)));
    document.text('First page');
    document.addPage({ layout: 'landscape' });
    document.text('Second page');
    document.end();
  });
const odt = (media = 'application/vnd.oasis.opendocument.text'): Buffer =>
  zipFile({
    mimetype: Buffer.from(media),
    'META-INF/manifest.xml': Buffer.from(
      `<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="${media}"/></manifest:manifest>`,
    ),
    'content.xml': Buffer.from(
      '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:text><text:p>Open words</text:p></office:text></office:body></office:document-content>',
    ),
    'styles.xml': Buffer.from(
      '<office:document-styles xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0"><office:automatic-styles><style:page-layout style:name="pm1"><style:page-layout-properties/></style:page-layout></office:automatic-styles><office:master-styles><style:master-page style:name="Standard" style:page-layout-name="pm1"/></office:master-styles></office:document-styles>',
    ),
  });
const eml = (): Promise<Buffer> =>
  emlFile({
    from: 'a@merrowstrait.example',
    to: ['b@partner.example'],
    subject: 'Übersicht',
    text: 'Grüße\nund mehr',
    html: '<html><body class="x"><p>Grüße</p></body></html>',
    attachments: [{ filename: 'data.bin', content: Buffer.from([0, 1, 2, 255]) }],
  });

const KINDS: readonly (readonly [name: string, make: () => Promise<Buffer> | Buffer])[] = [
  [
    'a.docx',
    () => docxFile({ paragraphs: ['Hello'], table: [['a'], ['1']], header: 'My header', comment: 'c' }),
  ],
  ['a.xlsx', () => xlsxFile('Crew', [['a'], ['1']])],
  ['a.pptx', pptx],
  ['a.pdf', pdf],
  ['a.odt', odt],
  ['a.eml', eml],
];

async function written(name: string, bytes: Uint8Array, change: LabelToWrite | null): Promise<Uint8Array> {
  const writing = await writeFileLabel({ name, bytes }, change);
  if (writing.status !== 'written') throw new Error(`not written: ${JSON.stringify(writing)}`);
  return writing.bytes;
}

/** Every text of a file, in which marks can be counted. */
async function textOf(name: string, bytes: Uint8Array): Promise<string> {
  const parts = await readFile({ name, bytes });
  return (
    parts
      .map((part) => (part.status === 'read' ? part.text : ''))
      .join('\n')
      // Written anew, a PDF names the version whose packing of objects it uses.
      .replace(/^PDFFormatVersion: .*$/m, '')
  );
}

async function partOf(bytes: Uint8Array, name: string): Promise<string> {
  const listing = await listZip(bytes);
  const entry = listing.status === 'listed' ? listing.entries.find((each) => each.name === name) : undefined;
  const expanded = entry && (await expand(entry, new Budget()));
  return expanded?.status === 'expanded' ? expanded.bytes.toString('utf8') : '';
}

const count = (text: string, piece: string): number => text.split(piece).length - 1;

describe.each(KINDS)('a label in %s', (name, make) => {
  it('is read back as it was written, and the file opens with its text', async () => {
    const bytes = await make();
    const before = Buffer.from(bytes);
    const change = labelling('Bridge only é');
    const labelled = await written(name, bytes, change);
    expect((await readFileLabels({ name, bytes: labelled })).own).toEqual(change.label);
    expect(Buffer.compare(before, bytes)).toBe(0);
    const parts = await readFile({ name, bytes: labelled });
    expect(parts.filter(({ status }) => status === 'unreadable' && name !== 'a.eml')).toEqual([]);
  });

  it('replaces and never doubles', async () => {
    const once = await written(name, await make(), labelling('Bridge'));
    const twice = await written(name, once, labelling('Bridge'));
    expect(count(await textOf(name, twice), 'Owner ada')).toBe(count(await textOf(name, once), 'Owner ada'));
    expect(Math.abs(twice.length - once.length)).toBeLessThan(64);
    const other = await written(name, twice, labelling('Quay'));
    expect(await textOf(name, other)).not.toContain('Bridge <&');
    expect((await readFileLabels({ name, bytes: other })).own?.name).toBe('Quay');
  });

  it('leaves no trace when it is taken off', async () => {
    const bytes = await make();
    const off = await written(name, await written(name, bytes, labelling('Bridge')), null);
    expect((await readFileLabels({ name, bytes: off })).own).toBeNull();
    expect((await textOf(name, off)).trim()).toBe((await textOf(name, bytes)).trim());
    expect(Buffer.from(off).toString('latin1')).not.toContain('LanternLabel');
  });

  it('takes nothing off a file that never had one', async () => {
    const bytes = await make();
    expect(await textOf(name, await written(name, bytes, null))).toBe(await textOf(name, bytes));
  });
});

describe('docx', () => {
  const sections = (): Promise<Buffer> =>
    Packer.toBuffer(
      new Document({
        evenAndOddHeaderAndFooters: true,
        sections: [
          {
            properties: { titlePage: true },
            headers: {
              default: new Header({ children: [new Paragraph('Usual')] }),
              first: new Header({ children: [new Paragraph('First')] }),
            },
            children: [new Paragraph('One')],
          },
          { children: [new Paragraph('Two')] },
          {
            headers: { default: new Header({ children: [new Paragraph('Third')] }) },
            footers: { default: new Footer({ children: [new Paragraph('Foot')] }) },
            children: [new Paragraph({ children: [new TextRun('Three')] })],
          },
        ],
      }),
    ).then((bytes) => Buffer.from(bytes));

  it('marks every header once, also of first and even pages', async () => {
    const labelled = await written('s.docx', await sections(), labelling('Bridge', MARKINGS.slice(0, 1)));
    const listing = await listZip(labelled);
    const headers =
      listing.status === 'listed'
        ? listing.entries.filter((entry) => /header\d*\.xml$/i.test(entry.name))
        : [];
    for (const { name } of headers)
      expect([name, count(await partOf(labelled, name), 'Bridge &lt;&amp; rank')]).toEqual([name, 1]);
    // Three that stood there, and one for even pages, which had none.
    expect(headers).toHaveLength(4);
    expect(await partOf(labelled, 'word/document.xml')).toContain('w:type="even"');
  });

  it('keeps the body as it was', async () => {
    const bytes = await sections();
    const labelled = await written('s.docx', bytes, labelling('Bridge'));
    const value = async (buffer: Uint8Array) =>
      (await mammoth.convertToHtml({ buffer: Buffer.from(buffer) })).value;
    expect(await value(labelled)).toBe(await value(bytes));
  });

  it('labels a document without section properties, settings or relationships', async () => {
    const bare = zipFile({
      '[Content_Types].xml': Buffer.from(
        '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/></Types>',
      ),
      'word/document.xml': Buffer.from(
        '<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body><w:p><w:r><w:t>x</w:t></w:r></w:p></w:body></w:document>',
      ),
    });
    const labelled = await written('bare.docx', bare, labelling('Bridge'));
    expect((await readFileLabels({ name: 'bare.docx', bytes: labelled })).own?.name).toBe('Bridge');
    expect(await textOf('bare.docx', labelled)).toContain('Bridge <& rank 700>');
  });

  it('keeps properties of others and reads what looks like a label of another maker', async () => {
    const custom = await Packer.toBuffer(
      new Document({
        customProperties: [
          { name: 'DocClassification', value: 'Restricted' },
          { name: 'Client', value: 'X' },
        ],
        sections: [],
      }),
    );
    const labelled = await written('c.docx', Buffer.from(custom), labelling('Bridge'));
    const { own, foreign } = await readFileLabels({ name: 'c.docx', bytes: labelled });
    expect([own?.name, foreign]).toEqual(['Bridge', [{ field: 'DocClassification', value: 'Restricted' }]]);
    expect(await partOf(labelled, 'docProps/custom.xml')).toContain('Client');
  });
});

describe('xlsx', () => {
  it('prints in the middle of header and footer, in front of what stands there, and puts it back', async () => {
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('A', {
      headerFooter: {
        oddHeader: '&LLeft&CMiddle && more&RRight',
        differentFirst: true,
        firstHeader: 'First',
      },
    });
    sheet.addRow(['x']);
    book.addWorksheet('B').addRow(['y']);
    const bytes = Buffer.from(await book.xlsx.writeBuffer());
    const labelled = await written('b.xlsx', bytes, labelling('9 R&D', MARKINGS.slice(0, 2)));
    const read = new ExcelJS.Workbook();
    await read.xlsx.load(
      labelled.buffer.slice(labelled.byteOffset, labelled.byteOffset + labelled.byteLength) as ArrayBuffer,
    );
    const header = read.getWorksheet('A')?.headerFooter.oddHeader ?? '';
    expect(header.startsWith('&LLeft&C&10&K7A1F1F9 R&&D <&& rank 700>')).toBe(true);
    expect(header).toContain('Middle && more&RRight');
    expect(read.getWorksheet('A')?.headerFooter.firstHeader).toContain('R&&D');
    expect(read.getWorksheet('B')?.headerFooter.oddFooter).toContain('Owner ada');
    const off = await written('b.xlsx', labelled, null);
    expect(await partOf(off, 'xl/worksheets/sheet1.xml')).toContain(
      '&amp;LLeft&amp;CMiddle &amp;&amp; more&amp;RRight',
    );
    expect(await partOf(off, 'xl/worksheets/sheet2.xml')).not.toContain('headerFooter');
  });

  it('says so where a header is full, and labels all the same', async () => {
    const book = new ExcelJS.Workbook();
    book.addWorksheet('A', { headerFooter: { oddHeader: `&C${'x'.repeat(240)}` } }).addRow(['x']);
    const writing = await writeFileLabel(
      { name: 'f.xlsx', bytes: Buffer.from(await book.xlsx.writeBuffer()) },
      labelling('Bridge', MARKINGS.slice(0, 1)),
    );
    expect(writing).toMatchObject({ status: 'written', notes: ['header-full'] });
  });
});

describe('pdf', () => {
  it('prints under the text of every page in letters of any script', async () => {
    const labelled = await written('p.pdf', await pdf(), labelling('Γέφυρα мост'));
    const document = await PDFDocument.load(labelled);
    expect(document.getPageCount()).toBe(2);
    expect(count(await textOf('p.pdf', labelled), 'Γέφυρα мост <& rank 700>')).toBe(2);
    for (const page of document.getPages()) {
      const contents = page.node.Contents();
      const first = document.context.lookup(contents instanceof PDFArray ? contents.get(0) : contents);
      expect(String((first as { dict?: unknown }).dict)).toContain('LanternMark');
    }
  });

  it('can be read in the bytes by whoever looks for a packet (ISO 16684-1, 7.3)', async () => {
    const text = Buffer.from(await written('p.pdf', await pdf(), labelling('Bridge'))).toString('utf8');
    expect(
      /<\?xpacket begin=[\s\S]*<lantern:LanternLabelName[^>]*>Bridge<[\s\S]*<\?xpacket end/.test(text),
    ).toBe(true);
  });

  it('keeps what other programs wrote into the metadata', async () => {
    const document = await PDFDocument.create();
    document.addPage().drawText('x', { font: await document.embedFont(StandardFonts.Helvetica) });
    const packet =
      '<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:o="urn:other#" o:SensitivityLevel="High"><dc:format>application/pdf</dc:format></rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>';
    document.catalog.set(
      PDFName.of('Metadata'),
      document.context.register(document.context.stream(packet, { Type: 'Metadata', Subtype: 'XML' })),
    );
    const bytes = await document.save();
    const labelled = await written('m.pdf', bytes, labelling('Bridge'));
    expect(Buffer.from(labelled).toString('utf8')).toContain('<dc:format>application/pdf</dc:format>');
    expect((await readFileLabels({ name: 'm.pdf', bytes: labelled })).foreign).toEqual([
      { field: 'SensitivityLevel', value: 'High' },
    ]);
  });

  it('leaves locked and signed ones alone and says which they are', async () => {
    const locked = await pdf({ userPassword: 'sesame' });
    expect(await writeFileLabel({ name: 'l.pdf', bytes: locked }, labelling('Bridge'))).toEqual({
      status: 'refused',
      reason: 'encrypted',
    });
    const document = await PDFDocument.create();
    document.addPage();
    document.catalog.set(PDFName.of('AcroForm'), document.context.obj({ SigFlags: 3, Fields: [] }));
    const signed = await document.save();
    expect(await writeFileLabel({ name: 's.pdf', bytes: signed }, labelling('Bridge'))).toEqual({
      status: 'refused',
      reason: 'signed',
    });
    expect(
      await writeFileLabel(
        { name: 'x.pdf', bytes: Buffer.from('%PDF-1.7\nnothing more') },
        labelling('Bridge'),
      ),
    ).toEqual({
      status: 'refused',
      reason: 'corrupt',
    });
  });
});

describe('mail', () => {
  it('marks subject, text and HTML, and touches no attachment', async () => {
    const bytes = await eml();
    const labelled = await written('m.eml', bytes, labelling('Bridge'));
    const mail = await new PostalMime().parse(labelled);
    expect(mail.subject).toBe('[Bridge] Übersicht');
    expect(mail.text?.startsWith('Bridge <& rank 700>\n\nGrüße')).toBe(true);
    expect(mail.html).toMatch(
      /<body class="x"><p data-lantern-mark="top"[^>]*>Bridge &lt;&amp; rank 700&gt;<\/p>/,
    );
    expect(new Uint8Array(mail.attachments[0]?.content as ArrayBuffer)).toEqual(
      new Uint8Array([0, 1, 2, 255]),
    );
    const head = Buffer.from(labelled).toString('latin1').split('\r\n\r\n')[0] ?? '';
    expect(Math.max(...head.split('\r\n').map(({ length }) => length))).toBeLessThanOrEqual(78);
  });

  it('writes letters that the old encoding did not have', async () => {
    const mail = Buffer.from(
      'From: a@x.example\r\nTo: b@x.example\r\nSubject: s\r\nContent-Type: text/plain; charset=iso-8859-1\r\nContent-Transfer-Encoding: 8bit\r\n\r\nGr\xfc\xdfe\r\n',
      'latin1',
    );
    const read = await new PostalMime().parse(await written('l.eml', mail, labelling('Мост')));
    expect(read.text?.trim().replace(/\n+/g, '|')).toBe(
      'Мост <& rank 700>|Grüße|Owner ada@merrowstrait.example',
    );
  });

  it('leaves a signed body as it is and says so (RFC 8551)', async () => {
    const body =
      '--b\r\nContent-Type: text/plain\r\n\r\nSigned words\r\n--b\r\nContent-Type: application/pkcs7-signature\r\n\r\nAAAA\r\n--b--\r\n';
    const mail = Buffer.from(
      `From: a@x.example\r\nTo: b@x.example\r\nSubject: s\r\nContent-Type: multipart/signed; boundary="b"\r\n\r\n${body}`,
    );
    const writing = await writeFileLabel(
      { name: 's.eml', bytes: mail },
      labelling('Bridge', MARKINGS.slice(0, 1)),
    );
    expect(writing).toMatchObject({ status: 'written', notes: ['body-sealed'] });
    expect(
      Buffer.from((writing as { bytes: Uint8Array }).bytes)
        .toString()
        .endsWith(body),
    ).toBe(true);
  });

  it('reads the security label of an open standard as foreign (RFC 7444)', async () => {
    const mail = Buffer.from(
      'From: a@x.example\r\nTo: b@x.example\r\nSIO-Label: marking="EXAMPLE CONFIDENTIAL"; fgcolor=black; bgcolor=red; type=":ess"; label="MQYG"\r\nSubject: s\r\n\r\nx\r\n',
    );
    expect((await readFileLabels({ name: 'r.eml', bytes: mail })).foreign).toEqual([
      { field: 'sio-label', value: 'EXAMPLE CONFIDENTIAL' },
    ]);
  });
});

describe('what has no room for a label', () => {
  const companionOf = async (name: string, bytes: Uint8Array): Promise<LabelWriting> =>
    writeFileLabel({ name, bytes }, labelling('Bridge'));

  it.each([
    ['notes.txt', Buffer.from('plain words')],
    ['any.zip', zipFile({ 'a.txt': Buffer.from('x') })],
    ['picture.png', Buffer.from([0x89, 0x50, 0x4e, 0x47])],
    ['empty', Buffer.alloc(0)],
  ])('%s gets a companion that is read back', async (name, bytes) => {
    const writing = await companionOf(name, bytes);
    if (writing.status !== 'beside' || !writing.companion) throw new Error(writing.status);
    expect(readCompanion(writing.companion).own).toEqual(labelling('Bridge').label);
    expect(await writeFileLabel({ name, bytes }, null)).toEqual({ status: 'beside', companion: null });
  });

  it.each([
    '{',
    '[]',
    '{"format":"other"}',
    `{"format":"uncut-lantern label 1","${FIELDS.id}":"x"}`,
    'x'.repeat(100_000),
  ])('is no companion: %.20s', (text) => {
    expect(readCompanion(Buffer.from(text)).own).toBeNull();
  });
});

describe('files that must stay as they are', () => {
  it.each([
    [
      'a signed document',
      'signed',
      { '[Content_Types].xml': '<Types/>', 'word/document.xml': '<a/>', '_xmlsignatures/origin.sigs': '' },
    ],
    [
      'a document with outside entities',
      'corrupt',
      {
        '[Content_Types].xml': '<Types/>',
        'word/document.xml': '<!DOCTYPE a [<!ENTITY e SYSTEM "file:///etc/passwd">]><a>&e;</a>',
      },
    ],
    ['broken markup', 'corrupt', { '[Content_Types].xml': '<Types', 'word/document.xml': '<a/>' }],
    [
      'a locked OpenDocument',
      'encrypted',
      { 'content.xml': 'x', 'META-INF/manifest.xml': '<m><encryption-data/></m>' },
    ],
    [
      'a signed OpenDocument',
      'signed',
      { 'content.xml': 'x', 'META-INF/manifest.xml': '<m/>', 'META-INF/documentsignatures.xml': '<s/>' },
    ],
  ])('%s: %s', async (_what, reason, parts) => {
    const bytes = zipFile(
      Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, Buffer.from(text)])),
    );
    expect(await writeFileLabel({ name: 'x.docx', bytes }, labelling('Bridge'))).toEqual({
      status: 'refused',
      reason,
    });
  });

  it('a truncated package', async () => {
    const bytes = (await docxFile({ paragraphs: ['x'] })).subarray(0, 3_000);
    expect(await writeFileLabel({ name: 't.docx', bytes }, labelling('Bridge'))).toEqual({
      status: 'refused',
      reason: 'corrupt',
    });
  });
});

const PROGRAMS = ['/usr/bin/soffice', '/usr/bin/pdftotext'].every((path) => existsSync(path));

(PROGRAMS ? describe : describe.skip)('an office program of Debian', () => {
  it.each(['a.docx', 'a.xlsx', 'a.pptx', 'a.odt'])('opens %s and prints its marks', async (name) => {
    const make = KINDS.find(([kind]) => kind === name)?.[1];
    const folder = mkdtempSync(join(tmpdir(), 'lantern-labels-'));
    try {
      writeFileSync(
        join(folder, name),
        await written(name, await make!(), labelling('Bridge', MARKINGS.slice(0, 2))),
      );
      const profile = `-env:UserInstallation=file://${folder}/profile`;
      spawnSync(
        '/usr/bin/soffice',
        [profile, '--headless', '--convert-to', 'pdf', '--outdir', folder, join(folder, name)],
        { timeout: 60_000 },
      );
      const made = join(folder, 'a.pdf');
      spawnSync('/usr/bin/pdftotext', [made, join(folder, 'a.txt')]);
      const text = readFileSync(join(folder, 'a.txt'), 'utf8');
      expect(text).toContain('Bridge <& rank 700>');
      expect(text).toContain('Owner ada@merrowstrait.example');
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
