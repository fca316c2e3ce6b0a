import type { Document, Element } from '@xmldom/xmldom';
import type { PrintedMark } from '@lantern/core/labels';
import {
  addContentType,
  addRelationship,
  relationships,
  removeContentType,
  removeRelationship,
} from './ooxml-properties.js';
import type { PackageFile } from './package-file.js';
import { attribute, children, drop, escaped, fragment, make, named, put, rootOf, writeXml } from './xml.js';

const W = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const SPACES = {
  w: W,
  r: R,
  v: 'urn:schemas-microsoft-com:vml',
  o: 'urn:schemas-microsoft-com:office:office',
};
const RELS = 'word/_rels/document.xml.rels';
/** Each line holds a bookmark of this name and a number: programs keep those, and a line in one keeps its colour. */
const BOOKMARK = 'LanternMark';
/** Numbers of our bookmarks begin here, far from those that programs give. */
const FIRST_BOOKMARK = 94_000;
/** Parts that were made for marks alone are called so, and go when they do. */
const OWN_PART = /^(?:\/?word\/)?lantern(?:Header|Footer)\d+\.xml$/;

type Band = 'header' | 'footer';
/** Pages that a header can be for (ECMA-376 part 1, 17.18.36). */
const TYPES = ['default', 'first', 'even'] as const;

/** Takes off every line of ours, and the headers and footers that were made for them. */
export function removeDocxMarks(file: PackageFile): void {
  for (const name of file.names) {
    if (!/^word\/[^/]*\.xml$/.test(name) || !file.text(name).includes(BOOKMARK)) continue;
    for (const bookmark of named(file.xml(name), 'bookmarkStart')) {
      if (!attribute(bookmark, 'name').startsWith(BOOKMARK)) continue;
      const paragraph = bookmark.parentNode as Element | null;
      if (paragraph?.localName === 'p') drop(paragraph);
    }
  }
  const own = file.names.filter((name) => OWN_PART.test(name));
  if (own.length === 0) return;
  const targets = relationships(file, RELS);
  for (const kind of ['headerReference', 'footerReference'])
    for (const reference of named(file.xml('word/document.xml'), kind))
      if (OWN_PART.test(targets.get(attribute(reference, 'id')) ?? '')) drop(reference);
  removeRelationship(file, RELS, (target) => OWN_PART.test(target));
  for (const name of own) {
    file.remove(name);
    removeContentType(file, name);
  }
}

/** Prints marks in the headers and footers of every section; what a section takes over from the one before is enough. */
export function addDocxMarks(file: PackageFile, marks: readonly PrintedMark[]): void {
  const inHeader = marks.filter(({ place }) => place !== 'foot');
  const inFooter = marks.filter(({ place }) => place === 'foot');
  if (inHeader.length > 0) addToBand(file, 'header', inHeader);
  if (inFooter.length > 0) addToBand(file, 'footer', inFooter);
}

function addToBand(file: PackageFile, band: Band, marks: readonly PrintedMark[]): void {
  const document = file.xml('word/document.xml');
  const targets = relationships(file, RELS);
  const even =
    file.has('word/settings.xml') && named(file.xml('word/settings.xml'), 'evenAndOddHeaders').some(isOn);
  const marked = new Set<string>();
  const inForce = new Set<string>();
  for (const section of sectionsOf(document)) {
    const first = children(section).some((each) => each.localName === 'titlePg' && isOn(each));
    for (const type of TYPES) {
      const reference = children(section).find(
        (each) => each.localName === `${band}Reference` && (attribute(each, 'type') || 'default') === type,
      );
      const target = reference && partOf(targets.get(attribute(reference, 'id')));
      if (target && file.has(target)) {
        inForce.add(type);
        if (!marked.has(target)) markPart(file, target, marks);
        marked.add(target);
      } else if (!inForce.has(type) && (type === 'default' || (type === 'first' ? first : even))) {
        if (reference) drop(reference);
        inForce.add(type);
        addPart(file, { band, type, section, marks });
      }
    }
  }
}

function isOn(element: Element): boolean {
  return !['0', 'false', 'off'].includes(attribute(element, 'val'));
}

function partOf(target: string | undefined): string | undefined {
  if (target === undefined) return undefined;
  return target.startsWith('/') ? target.slice(1) : `word/${target}`;
}

/** Properties of every section; a document that has none gets those of its only one. */
function sectionsOf(document: Document): Element[] {
  const found = named(document, 'sectPr').filter(
    (section) => (section.parentNode as Element | null)?.localName !== 'sectPrChange',
  );
  if (found.length > 0) return found;
  const [body] = named(document, 'body');
  return body ? [put(body, make(document, W, 'w:sectPr'))] : [];
}

/** The first place in a section's properties that follows its references (17.6.17: references come first). */
function afterReferences(section: Element) {
  return (
    children(section).find(({ localName }) => !/^(?:header|footer)Reference$/.test(localName ?? '')) ?? null
  );
}

function addPart(
  file: PackageFile,
  {
    band,
    type,
    section,
    marks,
  }: { band: Band; type: string; section: Element; marks: readonly PrintedMark[] },
): void {
  const title = band === 'header' ? 'Header' : 'Footer';
  let number = 1;
  while (file.has(`word/lantern${title}${number}.xml`)) number += 1;
  const name = `lantern${title}${number}.xml`;
  const tag = band === 'header' ? 'hdr' : 'ftr';
  file.set(
    `word/${name}`,
    `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<w:${tag} xmlns:w="${W}" xmlns:r="${R}"><w:p/></w:${tag}>`,
  );
  addContentType(
    file,
    `word/${name}`,
    `application/vnd.openxmlformats-officedocument.wordprocessingml.${band}+xml`,
  );
  const id = addRelationship(file, RELS, `${R}/${band}`, name);
  const document = file.xml('word/document.xml');
  const reference = make(document, W, `w:${band}Reference`, { 'w:type': type });
  reference.setAttributeNS(R, 'r:id', id);
  put(section, reference, afterReferences(section));
  markPart(file, `word/${name}`, marks);
}

function markPart(file: PackageFile, name: string, marks: readonly PrintedMark[]): void {
  const document = file.xml(name);
  const root = rootOf(document);
  marks.forEach((mark, index) => {
    const id = FIRST_BOOKMARK + bookmarks(file) + index;
    const start = `<w:bookmarkStart w:id="${id}" w:name="${BOOKMARK}${id}"/><w:bookmarkEnd w:id="${id}"/>`;
    const markup = mark.place === 'across' ? acrossMarkup(mark, id, start) : lineMarkup(mark, start);
    const paragraph = fragment(document, markup, SPACES);
    put(root, paragraph, mark.place === 'foot' ? null : root.firstChild);
  });
  // Written at once, so that the next part counts these.
  file.set(name, writeXml(document));
}

/** Bookmarks of ours in headers and footers so far; their names are unique in a document (17.13.6.2). */
function bookmarks(file: PackageFile): number {
  return file.names
    .filter((name) => /^word\/[^/]*(?:header|footer)\d*\.xml$/i.test(name))
    .reduce((count, name) => count + file.text(name).split(`w:name="${BOOKMARK}`).length - 1, 0);
}

function lineMarkup({ line, points, colour }: PrintedMark, bookmark: string): string {
  const size = Math.round(points * 2);
  return (
    `<w:p><w:pPr><w:jc w:val="center"/></w:pPr>${bookmark}<w:r><w:rPr><w:color w:val="${colour.slice(1).toUpperCase()}"/>` +
    `<w:sz w:val="${size}"/><w:szCs w:val="${size}"/></w:rPr><w:t xml:space="preserve">${escaped(line)}</w:t></w:r></w:p>`
  );
}

/** Width of a letter in sizes, on average, of the sans serif that programs print such lines in. */
const LETTER = 0.55;

/** A line behind the text of the whole page. Word processors print it as a shape of words (VML text path). */
function acrossMarkup({ line, points, colour, slant }: PrintedMark, id: number, bookmark: string): string {
  const width = Math.max(20, Math.round(line.length * points * LETTER));
  const style =
    `position:absolute;margin-left:0;margin-top:0;width:${width}pt;height:${Math.round(points * 1.2)}pt;rotation:${(360 - slant) % 360};` +
    'z-index:-251658752;mso-position-horizontal:center;mso-position-horizontal-relative:margin;' +
    'mso-position-vertical:center;mso-position-vertical-relative:margin';
  return (
    `<w:p>${bookmark}<w:r><w:pict><v:shapetype id="_x0000_t136" coordsize="21600,21600" o:spt="136" adj="10800" path="m@7,l@8,m@5,21600l@6,21600e">` +
    '<v:formulas><v:f eqn="sum #0 0 10800"/><v:f eqn="prod #0 2 1"/><v:f eqn="sum 21600 0 @1"/><v:f eqn="sum 0 0 @2"/><v:f eqn="sum 21600 0 @3"/>' +
    '<v:f eqn="if @0 @3 0"/><v:f eqn="if @0 21600 @1"/><v:f eqn="if @0 0 @2"/><v:f eqn="if @0 @4 21600"/></v:formulas>' +
    '<v:path textpathok="t" o:connecttype="rect"/><v:textpath on="t" fitshape="t"/></v:shapetype>' +
    `<v:shape id="${BOOKMARK}${id}" o:spid="_x0000_s${id}" type="#_x0000_t136" style="${style}" o:allowincell="f" fillcolor="${colour}" stroked="f">` +
    `<v:textpath style="font-family:&quot;Arial&quot;;font-size:${points}pt" string="${escaped(line)}"/></v:shape></w:pict></w:r></w:p>`
  );
}
