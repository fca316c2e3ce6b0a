import { zipFile } from '@lantern/testkit';

/**
 * Small real files made quickly: a few thousand are wanted at once. Each holds the least that its format asks for
 * (ECMA-376, OpenDocument 1.3), with a header of its own where there is room for one.
 */
export type QuickKind = 'docx' | 'xlsx' | 'pptx' | 'odt' | 'pdf' | 'txt' | 'csv' | 'html' | 'eml';

const xml = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const packed = (parts: Readonly<Record<string, string>>): Uint8Array =>
  zipFile(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, Buffer.from(text)])));
const types = (overrides: string): string =>
  `${XML}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>${overrides}</Types>`;
const override = (part: string, kind: string): string =>
  `<Override PartName="/${part}" ContentType="application/vnd.openxmlformats-officedocument.${kind}+xml"/>`;
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const relationships = (...targets: readonly (readonly [string, string])[]): string =>
  `${XML}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${targets
    .map(
      ([kind, target], index) =>
        `<Relationship Id="rId${index + 1}" Type="${OFFICE}/${kind}" Target="${target}"/>`,
    )
    .join('')}</Relationships>`;

function docx(lines: readonly string[]): Uint8Array {
  const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
  const body = lines
    .map((line) => `<w:p><w:r><w:t xml:space="preserve">${xml(line)}</w:t></w:r></w:p>`)
    .join('');
  return packed({
    '[Content_Types].xml': types(
      override('word/document.xml', 'wordprocessingml.document.main') +
        override('word/header1.xml', 'wordprocessingml.header'),
    ),
    '_rels/.rels': relationships(['officeDocument', 'word/document.xml']),
    'word/_rels/document.xml.rels': relationships(['header', 'header1.xml']),
    'word/header1.xml': `${XML}<w:hdr xmlns:w="${w}"><w:p><w:r><w:t>Merrow Strait Lines</w:t></w:r></w:p></w:hdr>`,
    'word/document.xml': `${XML}<w:document xmlns:w="${w}" xmlns:r="${OFFICE}"><w:body>${body}<w:sectPr><w:headerReference w:type="default" r:id="rId1"/><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="1440" w:header="708" w:footer="708" w:gutter="0"/></w:sectPr></w:body></w:document>`,
  });
}

const column = (index: number): string => String.fromCharCode(65 + index);

function xlsx(lines: readonly string[]): Uint8Array {
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
  const rows = lines
    .map((line, row) => {
      const cells = line
        .split('\t')
        .map(
          (cell, index) =>
            `<c r="${column(index)}${row + 1}" t="inlineStr"><is><t xml:space="preserve">${xml(cell)}</t></is></c>`,
        );
      return `<row r="${row + 1}">${cells.join('')}</row>`;
    })
    .join('');
  return packed({
    '[Content_Types].xml': types(
      override('xl/workbook.xml', 'spreadsheetml.sheet.main') +
        override('xl/worksheets/sheet1.xml', 'spreadsheetml.worksheet'),
    ),
    '_rels/.rels': relationships(['officeDocument', 'xl/workbook.xml']),
    'xl/_rels/workbook.xml.rels': relationships(['worksheet', 'worksheets/sheet1.xml']),
    'xl/workbook.xml': `${XML}<workbook xmlns="${main}" xmlns:r="${OFFICE}"><sheets><sheet name="List" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/worksheets/sheet1.xml': `${XML}<worksheet xmlns="${main}"><sheetData>${rows}</sheetData></worksheet>`,
  });
}

function pptx(lines: readonly string[]): Uint8Array {
  const p = 'http://schemas.openxmlformats.org/presentationml/2006/main';
  const a = 'http://schemas.openxmlformats.org/drawingml/2006/main';
  const paragraphs = lines.map((line) => `<a:p><a:r><a:t>${xml(line)}</a:t></a:r></a:p>`).join('');
  const group = '<p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>';
  const shape = `<p:sp><p:nvSpPr><p:cNvPr id="2" name="Text"/><p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="600000" y="600000"/><a:ext cx="8000000" cy="5000000"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr><p:txBody><a:bodyPr/><a:lstStyle/>${paragraphs}</p:txBody></p:sp>`;
  return packed({
    '[Content_Types].xml': types(
      override('ppt/presentation.xml', 'presentationml.presentation.main') +
        override('ppt/slides/slide1.xml', 'presentationml.slide'),
    ),
    '_rels/.rels': relationships(['officeDocument', 'ppt/presentation.xml']),
    'ppt/_rels/presentation.xml.rels': relationships(['slide', 'slides/slide1.xml']),
    'ppt/presentation.xml': `${XML}<p:presentation xmlns:p="${p}" xmlns:r="${OFFICE}"><p:sldIdLst><p:sldId id="256" r:id="rId1"/></p:sldIdLst><p:sldSz cx="9144000" cy="6858000"/><p:notesSz cx="6858000" cy="9144000"/></p:presentation>`,
    'ppt/slides/slide1.xml': `${XML}<p:sld xmlns:p="${p}" xmlns:a="${a}"><p:cSld><p:spTree>${group}${shape}</p:spTree></p:cSld></p:sld>`,
  });
}

function odt(lines: readonly string[]): Uint8Array {
  const media = 'application/vnd.oasis.opendocument.text';
  const office = 'urn:oasis:names:tc:opendocument:xmlns:office:1.0';
  const text = 'urn:oasis:names:tc:opendocument:xmlns:text:1.0';
  const style = 'urn:oasis:names:tc:opendocument:xmlns:style:1.0';
  const paragraphs = lines.map((line) => `<text:p>${xml(line)}</text:p>`).join('');
  return packed({
    mimetype: media,
    'META-INF/manifest.xml': `${XML}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="${media}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/><manifest:file-entry manifest:full-path="styles.xml" manifest:media-type="text/xml"/></manifest:manifest>`,
    'content.xml': `${XML}<office:document-content xmlns:office="${office}" xmlns:text="${text}" office:version="1.3"><office:body><office:text>${paragraphs}</office:text></office:body></office:document-content>`,
    'styles.xml': `${XML}<office:document-styles xmlns:office="${office}" xmlns:style="${style}" office:version="1.3"><office:automatic-styles><style:page-layout style:name="pm1"><style:page-layout-properties/></style:page-layout></office:automatic-styles><office:master-styles><style:master-page style:name="Standard" style:page-layout-name="pm1"/></office:master-styles></office:document-styles>`,
  });
}

async function pdf(lines: readonly string[]): Promise<Uint8Array> {
  const { PDFDocument, StandardFonts } = await import('pdf-lib');
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  const page = document.addPage();
  lines.slice(0, 48).forEach((line, index) =>
    page.drawText(line.replace(/[^\x20-\xff]/g, ' ').slice(0, 110), {
      x: 50,
      y: 780 - index * 15,
      size: 10,
      font,
    }),
  );
  return document.save();
}

/** A file of a kind with these lines; tabs divide cells where a kind has cells. */
export async function quickFile(kind: QuickKind, lines: readonly string[]): Promise<Uint8Array> {
  switch (kind) {
    case 'docx':
      return docx(lines);
    case 'xlsx':
      return xlsx(lines);
    case 'pptx':
      return pptx(lines);
    case 'odt':
      return odt(lines);
    case 'pdf':
      return pdf(lines);
    case 'txt':
      return Buffer.from(lines.join('\n'));
    case 'csv':
      return Buffer.from(lines.map((line) => line.replace(/\t/g, ';')).join('\r\n'));
    case 'html':
      return Buffer.from(
        `<!doctype html><html><body>${lines.map((line) => `<p>${xml(line)}</p>`).join('')}</body></html>`,
      );
    case 'eml':
      return Buffer.from(
        `From: desk@merrowstrait.example\r\nTo: archive@merrowstrait.example\r\nSubject: ${(lines[0] ?? '').replace(/[^\x20-\x7e]/g, ' ')}\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: 8bit\r\n\r\n${lines.slice(1).join('\r\n')}\r\n`,
      );
  }
}
