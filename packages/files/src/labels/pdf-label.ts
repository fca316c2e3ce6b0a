import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import fontkit from '@pdf-lib/fontkit';
import type { PrintedMark } from '@lantern/core/labels';
import {
  decodePDFRawStream,
  PDFArray,
  PDFDict,
  PDFDocument,
  type PDFFont,
  PDFHexString,
  PDFName,
  PDFNumber,
  type PDFPage,
  PDFRawStream,
  PDFRef,
  PDFStream,
  PDFString,
  StandardFonts,
} from 'pdf-lib';
import {
  type FileLabel,
  type FileLabels,
  foreignFrom,
  type LabelNote,
  labelFields,
  labelFrom,
  type LabelWriter,
  NAMESPACE,
  NO_FILE_LABELS,
  refused,
} from './file-label.js';
import { children, drop, escaped, fragment, named, parseXml, put, UnsoundXml, writeXml } from './xml.js';

const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
const EMPTY_PACKET = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="${RDF}"></rdf:RDF></x:xmpmeta>`;
const OURS = PDFName.of('LanternMark');
const FONT = 'LanternMarkFont';

/** The XMP packet of a document (ISO 16684-1; ISO 32000-2, 14.3.2); empty where there is none. */
function packetOf(document: PDFDocument): string {
  const stream = document.catalog.lookup(PDFName.of('Metadata'));
  if (!(stream instanceof PDFRawStream)) return '';
  return new TextDecoder().decode(decodePDFRawStream(stream).decode());
}

/** Simple properties of a packet by local name: as attributes of a description or as elements in it (ISO 16684-1, 7.4, 7.9.2.2). */
function propertiesOf(packet: string): [string, string, string][] {
  if (packet === '') return [];
  return named(parseXml(packet), 'Description').flatMap((description): [string, string, string][] => [
    ...[...description.attributes].flatMap((each): [string, string, string][] =>
      each.namespaceURI && each.namespaceURI !== RDF && each.prefix !== 'xmlns'
        ? [[each.namespaceURI, each.localName ?? '', each.value]]
        : [],
    ),
    ...children(description).map((each): [string, string, string] => [
      each.namespaceURI ?? '',
      each.localName ?? '',
      (each.textContent ?? '').trim(),
    ]),
  ]);
}

/** Reads the label out of the metadata; a document that cannot be opened has none. */
export async function readPdfLabel(bytes: Uint8Array): Promise<FileLabels> {
  try {
    const document = await PDFDocument.load(bytes, {
      updateMetadata: false,
      ignoreEncryption: true,
      throwOnInvalidObject: true,
    });
    const properties = soundProperties(packetOf(document));
    const own = new Map(
      properties.flatMap(([space, name, value]) => (space === NAMESPACE ? [[name, value] as const] : [])),
    );
    const others = properties
      .filter(([space]) => space !== NAMESPACE)
      .map(([, name, value]) => [name, value] as const);
    return { own: labelFrom(own), foreign: foreignFrom([...others, ...informationOf(document)]) };
  } catch {
    return NO_FILE_LABELS;
  }
}

function soundProperties(packet: string): [string, string, string][] {
  try {
    return propertiesOf(packet);
  } catch {
    return [];
  }
}

/** Entries of the information dictionary (ISO 32000-2, 14.3.3). */
function informationOf(document: PDFDocument): [string, string][] {
  const information = document.context.lookup(document.context.trailerInfo.Info);
  if (!(information instanceof PDFDict)) return [];
  return information.entries().flatMap(([name, value]): [string, string][] => {
    const text = document.context.lookup(value);
    return text instanceof PDFString || text instanceof PDFHexString
      ? [[name.decodeText(), text.decodeText()]]
      : [];
  });
}

/** Writes the label into the metadata and prints its marks under the text of every page. */
export const writePdfLabel: LabelWriter = async ({ bytes }, change) => {
  let document: PDFDocument;
  try {
    document = await PDFDocument.load(bytes, { updateMetadata: false, throwOnInvalidObject: true });
    // Of what is no document at all the library makes one without a catalogue.
    if (!(document.catalog as unknown)) return refused('corrupt');
  } catch (error) {
    // The library's own class of error is none at run time; only its words tell.
    return refused(error instanceof Error && /encrypted/i.test(error.message) ? 'encrypted' : 'corrupt');
  }
  if (isSigned(document)) return refused('signed');
  try {
    writePacket(document, change?.label ?? null);
    for (const page of document.getPages()) removeMarks(page);
    const notes = change ? await addMarks(document, change.marks) : [];
    return { status: 'written', bytes: await document.save({ updateFieldAppearances: false }), notes };
  } catch {
    return refused('corrupt');
  }
};

/** A signature in a form (ISO 32000-2, 12.7.3, SigFlags) ends with any change of the file. */
function isSigned(document: PDFDocument): boolean {
  const form = document.catalog.lookup(PDFName.of('AcroForm'));
  const flags = form instanceof PDFDict ? form.lookup(PDFName.of('SigFlags')) : undefined;
  return flags instanceof PDFNumber && (flags.asNumber() & 1) === 1;
}

function writePacket(document: PDFDocument, label: FileLabel | null): void {
  const old = packetOf(document);
  if (old === '' && !label) return;
  let xml;
  try {
    xml = parseXml(old === '' ? EMPTY_PACKET : old);
    if (named(xml, 'RDF').length === 0) throw new UnsoundXml('has no RDF');
  } catch {
    // A packet that nobody can read says nothing that could be kept.
    xml = parseXml(EMPTY_PACKET);
  }
  for (const description of named(xml, 'Description')) {
    for (const each of children(description)) if (each.namespaceURI === NAMESPACE) drop(each);
    for (const each of [...description.attributes])
      if (each.namespaceURI === NAMESPACE) description.removeAttributeNode(each);
    const rest = [...description.attributes].filter(
      ({ prefix, localName }) => prefix !== 'xmlns' && localName !== 'about',
    );
    if (children(description).length === 0 && rest.length === 0) drop(description);
  }
  const [rdf] = named(xml, 'RDF');
  if (label && rdf) {
    const fields = labelFields(label).map(
      ([name, value]) => `<lantern:${name}>${escaped(value)}</lantern:${name}>`,
    );
    put(
      rdf,
      fragment(xml, `<rdf:Description rdf:about="">${fields.join('')}</rdf:Description>`, {
        rdf: RDF,
        lantern: NAMESPACE,
      }),
    );
  }
  const text = writeXml(xml).replace(/^<\?xml .*?\?>\s*/, '');
  const packet = text.startsWith('<?xpacket')
    ? text
    : `<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>\n${text}\n<?xpacket end="w"?>`;
  // Not compressed, so that whoever looks for a packet in the bytes finds it (ISO 16684-1, 7.3).
  const stream = document.context.stream(new TextEncoder().encode(packet), {
    Type: 'Metadata',
    Subtype: 'XML',
  });
  const known = document.catalog.get(PDFName.of('Metadata'));
  if (known instanceof PDFRef) document.context.assign(known, stream);
  else document.catalog.set(PDFName.of('Metadata'), document.context.register(stream));
}

function contentsOf(page: PDFPage): (PDFRef | PDFStream)[] {
  const contents = page.node.get(PDFName.of('Contents'));
  const looked = contents && page.doc.context.lookup(contents);
  if (looked instanceof PDFArray) return looked.asArray() as PDFRef[];
  return contents ? [contents as PDFRef] : [];
}

function removeMarks(page: PDFPage): void {
  const { context } = page.doc;
  const contents = contentsOf(page);
  const kept = contents.filter((each) => {
    const stream = context.lookup(each);
    return !(stream instanceof PDFStream && stream.dict.has(OURS));
  });
  if (kept.length < contents.length) {
    page.node.set(PDFName.of('Contents'), context.obj(kept));
    for (const each of contents) if (each instanceof PDFRef && !kept.includes(each)) context.delete(each);
  }
  const fonts = page.node.Resources()?.lookup(PDFName.of('Font'));
  if (!(fonts instanceof PDFDict)) return;
  const font = fonts.get(PDFName.of(FONT));
  if (font instanceof PDFRef) forget(page.doc, font);
  fonts.delete(PDFName.of(FONT));
}

/** Takes out an object of ours with all that only it refers to, so that a file does not grow with every change. */
function forget(document: PDFDocument, ref: PDFRef): void {
  const object = document.context.lookup(ref);
  document.context.delete(ref);
  const inner =
    object instanceof PDFDict
      ? object.values()
      : object instanceof PDFArray
        ? object.asArray()
        : object instanceof PDFStream
          ? object.dict.values()
          : [];
  for (const each of inner) {
    if (each instanceof PDFRef) forget(document, each);
    else if (each instanceof PDFArray)
      for (const item of each.asArray()) if (item instanceof PDFRef) forget(document, item);
  }
}

async function addMarks(document: PDFDocument, marks: readonly PrintedMark[]): Promise<LabelNote[]> {
  if (marks.length === 0) return [];
  const font = await fontFor(document, marks.map(({ line }) => line).join(''));
  const streams = new Map<string, PDFRef>();
  for (const page of document.getPages()) {
    const box = page.getCropBox();
    const turn = ((page.getRotation().angle % 360) + 360) % 360;
    const key = JSON.stringify([box, turn]);
    let stream = streams.get(key);
    if (!stream) {
      const content = new TextEncoder().encode(drawn(marks, { box, turn, font }));
      stream = document.context.register(document.context.flateStream(content, { LanternMark: true }));
      streams.set(key, stream);
    }
    const resources = page.node.Resources() ?? document.context.obj({});
    page.node.set(PDFName.of('Resources'), resources);
    let fonts = resources.lookup(PDFName.of('Font'));
    if (!(fonts instanceof PDFDict)) {
      fonts = document.context.obj({});
      resources.set(PDFName.of('Font'), fonts);
    }
    (fonts as PDFDict).set(PDFName.of(FONT), font.ref);
    // First in the order of drawing, so that it lies under everything else.
    page.node.set(PDFName.of('Contents'), document.context.obj([stream, ...contentsOf(page)]));
  }
  return [];
}

/** The usual font where it has the letters, else one with letters of most scripts, of which only those used are kept. */
async function fontFor(document: PDFDocument, text: string): Promise<PDFFont> {
  const usual = await document.embedFont(StandardFonts.Helvetica);
  try {
    usual.encodeText(text);
    return usual;
  } catch {
    document.registerFontkit(fontkit);
    const path = createRequire(import.meta.url).resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf');
    return document.embedFont(readFileSync(path), { subset: true });
  }
}

/** Distance of lines from the edge of the page, in points. */
const EDGE = 18;

interface Sheet {
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  /** Clockwise turn by which the page is shown. */
  readonly turn: number;
  readonly font: PDFFont;
}

function drawn(marks: readonly PrintedMark[], { box, turn, font }: Sheet): string {
  const sideways = turn === 90 || turn === 270;
  const width = sideways ? box.height : box.width;
  const height = sideways ? box.width : box.height;
  // From the page as it is seen to the page as it is written (ISO 32000-2, 8.3.4).
  const seen = {
    0: [1, 0, 0, 1, box.x, box.y],
    90: [0, 1, -1, 0, box.x + box.width, box.y],
    180: [-1, 0, 0, -1, box.x + box.width, box.y + box.height],
    270: [0, -1, 1, 0, box.x, box.y + box.height],
  }[turn] ?? [1, 0, 0, 1, box.x, box.y];
  let top = height - EDGE;
  let foot = EDGE;
  const lines = marks.map(({ place, line, points, colour, slant }) => {
    // What is too wide is made to fit.
    const room = place === 'across' ? Math.hypot(width, height) * 0.8 : width - 2 * EDGE;
    const size = Math.min(points, (points * room) / Math.max(1, font.widthOfTextAtSize(line, points)));
    const length = font.widthOfTextAtSize(line, size);
    const rgb = [1, 3, 5]
      .map((at) => (Number.parseInt(colour.slice(at, at + 2), 16) / 255).toFixed(3))
      .join(' ');
    const text = `BT ${rgb} rg /${FONT} ${size.toFixed(2)} Tf`;
    const words = `${font.encodeText(line).toString()} Tj ET`;
    if (place === 'across') {
      const angle = (slant * Math.PI) / 180;
      const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
      const x = width / 2 - (cosine * length) / 2 + (sine * size) / 3;
      const y = height / 2 - (sine * length) / 2 - (cosine * size) / 3;
      return `${text} ${[cosine, sine, -sine, cosine, x, y].map((each) => each.toFixed(4)).join(' ')} Tm ${words}`;
    }
    const y = place === 'top' ? (top -= size) : foot;
    if (place === 'foot') foot += size * 1.2;
    return `${text} 1 0 0 1 ${((width - length) / 2).toFixed(2)} ${y.toFixed(2)} Tm ${words}`;
  });
  return `q\n/LanternMark BMC\n${seen.map((each) => each.toFixed(4)).join(' ')} cm\n${lines.join('\n')}\nEMC\nQ\n`;
}
