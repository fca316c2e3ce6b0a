import type { Document, Element } from '@xmldom/xmldom';
import { zipSync } from 'fflate';
import type { LabelRefusal } from './labels/file-label.js';
import { PackageFile } from './labels/package-file.js';
import { children, drop, escaped, fragment, named, put, UnsoundXml } from './labels/xml.js';

const W = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
const encode = (text: string): Uint8Array => new TextEncoder().encode(text);

/** The least that makes a word-processing document (ECMA-376 part 1, 11.2). */
const EMPTY = {
  '[Content_Types].xml':
    '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>',
  '_rels/.rels':
    '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
  'word/document.xml': `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<w:document xmlns:w="${W}"><w:body><w:sectPr><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="1440" w:header="708" w:footer="708" w:gutter="0"/></w:sectPr></w:body></w:document>`,
};

/** A document with nothing in it. */
export function emptyDocx(): Uint8Array {
  return zipSync(Object.fromEntries(Object.entries(EMPTY).map(([name, text]) => [name, encode(text)])));
}

export type DocxText =
  | { readonly status: 'read'; readonly paragraphs: readonly string[] }
  | { readonly status: 'refused'; readonly reason: LabelRefusal | 'unsupported' };

async function open(bytes: Uint8Array): Promise<PackageFile | LabelRefusal | 'unsupported'> {
  const file = await PackageFile.read(bytes);
  if (typeof file === 'string') return file;
  return file.has('word/document.xml') ? file : 'unsupported';
}

/** Paragraphs right in the body: what a plain editor can change. Tables and boxes stay as they are. */
function bodyParagraphs(document: Document): Element[] {
  const [body] = named(document, 'body');
  if (!body) throw new UnsoundXml('has no body');
  return children(body).filter(({ localName }) => localName === 'p');
}

function textOf(paragraph: Element): string {
  return named(paragraph, 'r')
    .flatMap((run) => children(run))
    .map((each) => {
      if (each.localName === 't') return each.textContent ?? '';
      if (each.localName === 'tab') return '\t';
      return each.localName === 'br' || each.localName === 'cr' ? '\n' : '';
    })
    .join('');
}

/** Texts of the paragraphs in the body of a .docx. */
export async function readDocxParagraphs(bytes: Uint8Array): Promise<DocxText> {
  const file = await open(bytes);
  if (typeof file === 'string') return { status: 'refused', reason: file };
  try {
    return { status: 'read', paragraphs: bodyParagraphs(file.xml('word/document.xml')).map(textOf) };
  } catch (error) {
    if (error instanceof UnsoundXml) return { status: 'refused', reason: 'corrupt' };
    throw error;
  }
}

/**
 * Puts other texts into the paragraphs of a .docx. A paragraph whose text stays keeps everything it has; one that
 * changes keeps its own look and that of its first words; what is too few is added, what is too many goes.
 */
export async function writeDocxParagraphs(
  bytes: Uint8Array,
  paragraphs: readonly string[],
): Promise<Uint8Array | LabelRefusal | 'unsupported'> {
  const file = await open(bytes);
  if (typeof file === 'string') return file;
  try {
    const document = file.xml('word/document.xml');
    const known = bodyParagraphs(document);
    paragraphs.forEach((text, index) => {
      const paragraph = known[index];
      if (!paragraph) addParagraph(document, text);
      else if (textOf(paragraph) !== text) replaceText(document, paragraph, text);
    });
    for (const paragraph of known.slice(paragraphs.length)) drop(paragraph);
    return file.write();
  } catch (error) {
    if (error instanceof UnsoundXml) return 'corrupt';
    throw error;
  }
}

const SPACES = { w: W };

function runMarkup(text: string): string {
  const pieces = escaped(text)
    .split(/(\t|\n)/)
    .map((piece) => {
      if (piece === '\t') return '<w:tab/>';
      return piece === '\n' ? '<w:br/>' : piece === '' ? '' : `<w:t xml:space="preserve">${piece}</w:t>`;
    });
  return `<w:r>${pieces.join('')}</w:r>`;
}

function addParagraph(document: Document, text: string): void {
  const [body] = named(document, 'body');
  if (!body) return;
  const last = children(body).find(({ localName }) => localName === 'sectPr') ?? null;
  put(body, fragment(document, `<w:p>${text === '' ? '' : runMarkup(text)}</w:p>`, SPACES), last);
}

function replaceText(document: Document, paragraph: Element, text: string): void {
  const [firstRun] = named(paragraph, 'r');
  const look = firstRun && children(firstRun).find(({ localName }) => localName === 'rPr');
  for (const each of children(paragraph)) if (each.localName !== 'pPr') drop(each);
  if (text === '') return;
  const run = fragment(document, runMarkup(text), SPACES);
  if (look) put(run, look, run.firstChild);
  put(paragraph, run);
}
