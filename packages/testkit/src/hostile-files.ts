/** Files as somebody makes them who wants a reader to hang, to fill its memory, or to end. Small, and made by code. */
import { gzipSync } from 'node:zlib';
import { zipFile } from './zip.js';

const text = (content: string): Buffer => Buffer.from(content);
const times = (content: string, count: number): string => content.repeat(count);
const many = (count: number, one: (index: number) => string): string =>
  Array.from({ length: count }, (_unused, index) => one(index)).join('');

function zipped(files: Readonly<Record<string, string>>): Buffer {
  return zipFile(Object.fromEntries(Object.entries(files).map(([name, content]) => [name, text(content)])));
}

const docx = (body: string): Buffer =>
  zipped({
    '[Content_Types].xml': '<Types/>',
    'word/document.xml': `<w:document xmlns:w="x"><w:body>${body}</w:body></w:document>`,
  });

const xlsx = (rows: string, strings = '', columns = ''): Buffer =>
  zipped({
    'xl/workbook.xml':
      '<workbook><sheets><sheet name="a" sheetId="1" r:id="r1" xmlns:r="y"/></sheets></workbook>',
    'xl/worksheets/sheet1.xml': `<worksheet>${columns}<sheetData>${rows}</sheetData></worksheet>`,
    'xl/sharedStrings.xml': `<sst>${strings}</sst>`,
  });

const ods = (rows: string): Buffer =>
  zipped({
    mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
    'content.xml':
      '<o:document-content xmlns:o="o" xmlns:t="t" xmlns:x="x"><o:body><o:spreadsheet>' +
      `<t:table t:name="a">${rows}</t:table></o:spreadsheet></o:body></o:document-content>`,
  });

function nested(depth: number, wrap: (inside: Buffer, level: number) => Buffer): Buffer {
  let file = text('x');
  for (let level = 0; level < depth; level += 1) file = wrap(file, level);
  return file;
}

function mail(fields: string, body = 'x'): Buffer {
  return text(`From: a@b.example\r\n${fields}\r\n\r\n${body}`);
}

function deepMail(depth: number): Buffer {
  const parts = many(
    depth,
    (level) => `Content-Type: multipart/mixed; boundary=b${level}\r\n\r\n--b${level}\r\n`,
  );
  return text(
    `From: a@b.example\r\nTo: b@c.example\r\nMIME-Version: 1.0\r\n${parts}Content-Type: text/plain\r\n\r\nx`,
  );
}

const PARTED = 'To: b@c.example\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b';

/** One entry that says it holds eight gigabytes (POSIX.1-2001, ustar). */
function lyingTar(): Buffer {
  const head = Buffer.alloc(1_024);
  head.write('a.txt');
  head.write('77777777777', 124);
  head.write('ustar\0', 257);
  head.write('0', 156);
  head.fill(' ', 148, 156);
  const sum = head.subarray(0, 512).reduce((total, byte) => total + byte, 0);
  head.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
  return head;
}

/** A picture that says it is two thousand million points wide and high. */
function hugePng(): Buffer {
  const head = Buffer.from('89504e470d0a1a0a0000000d494844527fffffff7fffffff0802000000', 'hex');
  return Buffer.concat([head, Buffer.alloc(20)]);
}

function emptyBmp(): Buffer {
  const head = Buffer.alloc(64);
  head.write('BM');
  head.writeUInt32LE(40, 14);
  head.writeInt32LE(5_000, 18);
  head.writeInt32LE(5_000, 22);
  return head;
}

const PDF_CATALOGUE = '%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages';
const PDF_TRAILER = '>>endobj\ntrailer<</Root 1 0 R>>';
const TEN = (entity: string): string => times(`&${entity};`, 10);

/** Makers by what each is about; a maker takes at most a second. */
export const HOSTILE_FILES: Readonly<Record<string, () => Buffer>> = {
  'columns-1e6.html': () => text('<html><table><tr><td colspan=1000000>a</td></tr></table>'),
  'columns-1e9.html': () => text('<html><table><tr><td colspan=1000000000>a</td></tr></table>'),
  'rows-1e9.html': () => text('<html><table><tr><td rowspan=1000000000>a</td></tr></table>'),
  'square.html': () => text('<html><table><tr><td rowspan=100000 colspan=100000>a</td></tr></table>'),
  'tables-in-tables.html': () => text(`<html>${times('<table><tr><td>', 5_000)}a`),
  'deep.html': () => text(`<html>${times('<div>', 100_000)}a`),
  'cells.html': () => text(`<html><table>${times(`<tr>${times('<td>a</td>', 1_000)}</tr>`, 500)}</table>`),
  'wide-cell.html': () =>
    text(
      `<html><table><tr><td>${times('a', 9_000)}</td></tr>${times('<tr><td>b</td></tr>', 20_000)}</table>`,
    ),
  'list-start.html': () => text('<html><ol start=1000000000><li>a</li></ol>'),
  'lines.html': () => text(`<html><hr length=1000000000><pre>${times('\n', 100_000)}</pre>`),
  'entities.html': () => text(`<html>${times('&#x41;', 500_000)}`),
  'attributes.html': () => text(`<html><div ${times('a=b ', 200_000)}>x</div>`),
  'comments.html': () => text(`<html>${times('<!-- a -->', 200_000)}`),
  'open-comments.html': () => text(`<html>${times('<!-- a ', 300_000)}`),
  'brackets.html': () => text(`<html>${times('<', 1_000_000)}`),
  'deep-lists.json': () => text(times('[', 500_000) + times(']', 500_000)),
  'deep-objects.json': () => text(`${times('{"a":', 300_000)}1${times('}', 300_000)}`),
  'objects.json': () => text(`[${times('{"a":1},', 300_000)}{"b":1}]`),
  'keys.json': () => text(`{${many(300_000, (index) => `"k${index}":${index},`)}"z":1}`),
  'values.json': () => text(`[${times('1,', 2_000_000)}1]`),
  'deep.xml': () => text(`<?xml version="1.0"?>${times('<a>', 200_000)}${times('</a>', 200_000)}`),
  'attributes.xml': () => text(`<?xml version="1.0"?><a ${many(200_000, (index) => `a${index}="x" `)}/>`),
  'laughs.xml': () =>
    text(
      `<?xml version="1.0"?><!DOCTYPE a [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "${TEN('a')}"><!ENTITY c "${TEN('b')}">]><a>&c;</a>`,
    ),
  'open.xml': () => text(`<?xml version="1.0"?>${times('<a ', 500_000)}`),
  'deep.rtf': () => text(`{\\rtf1 ${times('{', 400)}${times('}', 400)}}`),
  'groups.rtf': () => text(`{\\rtf1 ${times('{a}', 500_000)}}`),
  'skip.rtf': () => text(`{\\rtf1\\uc1000000000 \\u65 a${times('b', 100_000)}}`),
  'words.rtf': () => text(`{\\rtf1 ${times('\\par', 500_000)}}`),
  'open-quote.csv': () => text(`a,b\n"${times('x', 2_000_000)}`),
  'names.vcf': () => text(`BEGIN:VCARD\r\n${times(`N;${times('a;', 100)}:x\r\n`, 10_000)}`),
  'folds.vcf': () => text(`BEGIN:VCARD\r\nN:${times('\r\n a', 500_000)}`),
  'mails.mbox': () => text(times('From a\nFrom: a\nSubject: b\n\nx\n\n', 30_000)),
  'fields.eml': () => text(`${times('X-A: b\r\n', 200_000)}\r\nx`),
  'folds.eml': () => mail(`Subject: a${times('\r\n b', 200_000)}`),
  'deep.eml': () => deepMail(300),
  'parts.eml': () => mail(PARTED, `${times('--b\r\nContent-Type: text/plain\r\n\r\nx\r\n', 30_000)}--b--`),
  'attachments.eml': () =>
    mail(
      PARTED,
      `${times('--b\r\nContent-Type: application/x\r\nContent-Disposition: attachment; filename=a\r\n\r\nx\r\n', 30_000)}--b--`,
    ),
  'addresses.eml': () => mail(`To: ${times('"a" <a@b.c>, ', 100_000)}z@z.example\r\nSubject: x`),
  'groups.eml': () => mail(`To: ${times('g: ', 50_000)}a@b.example;\r\nSubject: x`),
  'words.eml': () => mail(`To: c@d.example\r\nSubject: ${times('=?utf-8?q?a?= ', 100_000)}`),
  'spans.eml': () =>
    mail(
      'To: c@d.example\r\nMIME-Version: 1.0\r\nContent-Type: text/html',
      '<table><tr><td colspan=9999999>a',
    ),
  'deep.docx': () => docx(times('<w:p>', 100_000) + times('</w:p>', 100_000)),
  'span.docx': () =>
    docx(
      '<w:tbl><w:tr><w:tc><w:tcPr><w:gridSpan w:val="1000000000"/></w:tcPr><w:p><w:r><w:t>a</w:t></w:r></w:p></w:tc></w:tr></w:tbl>',
    ),
  'bomb.docx': () => docx(times(' ', 120_000_000)),
  'far-columns.xlsx': () =>
    xlsx(many(20_000, (row) => `<row r="${row + 1}"><c r="XFD${row + 1}"><v>1</v></c></row>`)),
  'far-row.xlsx': () => xlsx('<row r="1000000000"><c r="A1000000000"><v>1</v></c></row>'),
  'shared.xlsx': () =>
    xlsx(
      times(`<row>${times('<c t="s"><v>0</v></c>', 200)}</row>`, 2_000),
      `<si><t>${times('x', 10_000)}</t></si>`,
    ),
  'exponents.xlsx': () => xlsx('<row r="1"><c r="A1"><v>1e400</v></c><c r="B1"><v>1E+15</v></c></row>'),
  'hidden.xlsx': () =>
    xlsx(
      times(`<row>${times('<c><v>1</v></c>', 100)}</row>`, 1_000),
      '',
      `<cols>${times('<col min="1" max="16384" hidden="1"/>', 5_000)}</cols>`,
    ),
  'columns.ods': () =>
    ods(
      '<t:table-row><t:table-cell t:number-columns-repeated="1000000000"><x:p>a</x:p></t:table-cell></t:table-row>',
    ),
  'rows.ods': () =>
    ods(
      '<t:table-row t:number-rows-repeated="1000000000"><t:table-cell><x:p>a</x:p></t:table-cell></t:table-row>',
    ),
  'spaces.ods': () =>
    ods(
      `<t:table-row><t:table-cell><x:p><x:s x:c="1000000000"/>${times('<x:s x:c="100"/>', 100_000)}</x:p></t:table-cell></t:table-row>`,
    ),
  'entries.zip': () =>
    zipFile(Object.fromEntries(Array.from({ length: 20_000 }, (_unused, at) => [`f${at}.txt`, text('a')]))),
  'nested.zip': () => nested(30, (inside, level) => zipFile({ [`a${level}.zip`]: inside })),
  'bomb.zip': () =>
    zipFile(
      Object.fromEntries(
        Array.from({ length: 30 }, (_unused, at) => [`f${at}.txt`, Buffer.alloc(20_000_000)]),
      ),
    ),
  'ways-up.zip': () => zipped({ '../../etc/passwd': 'x', '/abs': 'y' }),
  'bomb.gz': () => gzipSync(Buffer.alloc(300_000_000)),
  'nested.gz': () => nested(40, (inside) => gzipSync(inside)),
  'lying.tar': lyingTar,
  'pages-in-circles.pdf': () => text(`${PDF_CATALOGUE}/Kids[2 0 R 2 0 R]/Count 1000000000${PDF_TRAILER}`),
  'no-pages.pdf': () => text(`${PDF_CATALOGUE}/Kids[]/Count 1000000000${PDF_TRAILER}`),
  'deep.pdf': () => text(`%PDF-1.4\n1 0 obj${times('[', 200_000)}endobj\ntrailer<</Root 1 0 R>>`),
  'huge.png': hugePng,
  'empty.bmp': emptyBmp,
  'frames.gif': () => text(`GIF89a  ${times(',\0\0\0\0    \0', 10_000)}`),
  'one-line.txt': () => text(times('4111 1111 1111 1111 ', 250_000)),
  'line-ends.txt': () => text(times('\n', 5_000_000)),
  'tabs.txt': () => text(times('\t', 5_000_000)),
  'commas.txt': () => text(times(',\n', 2_000_000)),
  'accents.txt': () => text(times('a\u0301\u0301\u0301', 1_000_000)),
  'at-signs.txt': () => text(times('@', 3_000_000)),
  'tokens.txt': () => text(times('eyJ', 1_500_000)),
  'begins.txt': () => text(times('-----BEGIN ', 400_000)),
  'tags.txt': () => text(times('<a', 1_500_000)),
  'percents.txt': () => text(times('%41', 1_500_000)),
  'references.txt': () => text(times('&#x41', 800_000)),
  'base64.txt': () => text(times('QUJD', 1_500_000)),
  'zero-width.txt': () => text(times('4\u200b', 1_500_000)),
  'half-utf16.txt': () => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.alloc(1_001, 0xd8)]),
};
