import type { Document, Element } from '@xmldom/xmldom';
import type { PrintedMark } from '@lantern/core/labels';
import {
  type FileLabel,
  type FileLabels,
  foreignFrom,
  type LabelNote,
  labelFields,
  labelFrom,
} from './file-label.js';
import type { PackageFile } from './package-file.js';
import { attribute, children, drop, escaped, fragment, make, named, put, rootOf } from './xml.js';

const SPACES = {
  office: 'urn:oasis:names:tc:opendocument:xmlns:office:1.0',
  meta: 'urn:oasis:names:tc:opendocument:xmlns:meta:1.0',
  style: 'urn:oasis:names:tc:opendocument:xmlns:style:1.0',
  text: 'urn:oasis:names:tc:opendocument:xmlns:text:1.0',
  draw: 'urn:oasis:names:tc:opendocument:xmlns:drawing:1.0',
  fo: 'urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0',
  svg: 'urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0',
};
const META = 'meta.xml';
const MANIFEST = 'META-INF/manifest.xml';
const EMPTY_META = `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-meta xmlns:office="${SPACES.office}" xmlns:meta="${SPACES.meta}" office:version="1.3"><office:meta/></office:document-meta>`;

/** Fields that people define (OpenDocument 1.3 part 3, 4.3.2.19) by name. */
function userFields(file: PackageFile): Map<string, string> {
  if (!file.has(META)) return new Map();
  return new Map(
    named(file.xml(META), 'user-defined').map((field) => [attribute(field, 'name'), field.textContent ?? '']),
  );
}

export function readOdfLabel(file: PackageFile): FileLabels {
  const fields = userFields(file);
  return { own: labelFrom(fields), foreign: foreignFrom(fields) };
}

/** Whether a document is locked (part 2, 4.16) or signed (part 2, 5). */
export function odfHindrance(file: PackageFile): 'encrypted' | 'signed' | null {
  if (file.has(MANIFEST) && file.text(MANIFEST).includes('encryption-data')) return 'encrypted';
  return file.has('META-INF/documentsignatures.xml') ? 'signed' : null;
}

export function writeOdfLabel(file: PackageFile, label: FileLabel | null): void {
  if (!file.has(META)) {
    if (!label) return;
    file.set(META, EMPTY_META);
    const manifest = file.xml(MANIFEST);
    const space = rootOf(manifest).namespaceURI ?? '';
    put(
      rootOf(manifest),
      make(manifest, space, 'manifest:file-entry', {
        'manifest:full-path': META,
        'manifest:media-type': 'text/xml',
      }),
    );
  }
  const document = file.xml(META);
  for (const field of named(document, 'user-defined'))
    if (attribute(field, 'name').startsWith('LanternLabel')) drop(field);
  if (!label) return;
  const [holder] = named(document, 'meta').filter(({ namespaceURI }) => namespaceURI === SPACES.office);
  const into = holder ?? put(rootOf(document), make(document, SPACES.office, 'office:meta'));
  for (const [name, value] of labelFields(label))
    put(
      into,
      fragment(
        document,
        `<meta:user-defined meta:name="${name}" meta:value-type="string">${escaped(value)}</meta:user-defined>`,
        SPACES,
      ),
    );
}

const STYLE = 'LanternMark';
/** Headers and footers that were made for marks alone carry this paragraph style on an empty line. */
const MADE = 'LanternMarkMade';
/** The same for those that stood there and were not shown. */
const HIDDEN = 'LanternMarkHidden';

export function removeOdfMarks(file: PackageFile): void {
  if (!file.has('styles.xml') || !file.text('styles.xml').includes(STYLE)) return;
  const document = file.xml('styles.xml');
  for (const kind of ['p', 'custom-shape'])
    for (const element of named(document, kind)) {
      const style = attribute(element, 'style-name');
      if (style === MADE) {
        const band = element.parentNode as Element | null;
        if (band && children(band).every((each) => attribute(each, 'style-name').startsWith(STYLE)))
          drop(band);
        else drop(element);
      } else if (style.startsWith(STYLE)) {
        if (style === HIDDEN)
          (element.parentNode as Element).setAttributeNS(SPACES.style, 'style:display', 'false');
        drop(element);
      }
    }
  for (const style of named(document, 'style')) if (attribute(style, 'name').startsWith(STYLE)) drop(style);
}

/** Prints marks in the header and footer of every master page of a text or a sheet; presentations have none. */
export function addOdfMarks(file: PackageFile, marks: readonly PrintedMark[]): LabelNote[] {
  if (marks.length === 0) return [];
  const media = file.has('mimetype') ? file.text('mimetype') : '';
  if (!/text|spreadsheet/.test(media) || !file.has('styles.xml')) return ['no-marks-here'];
  const sheet = media.includes('spreadsheet');
  const shown = sheet ? marks.filter(({ place }) => place !== 'across') : marks;
  const document = file.xml('styles.xml');
  const styles = automaticStyles(document);
  shown.forEach((mark, index) => {
    put(styles, fragment(document, styleMarkup(mark, index), SPACES));
    if (mark.place === 'across') put(styles, fragment(document, textStyle(mark, index), SPACES));
  });
  for (const name of [MADE, HIDDEN])
    put(styles, fragment(document, `<style:style style:name="${name}" style:family="paragraph"/>`, SPACES));
  for (const page of named(document, 'master-page'))
    shown.forEach((mark, index) => {
      for (const band of bands(document, page, mark.place === 'foot' ? 'footer' : 'header')) {
        const piece = fragment(document, markMarkup(mark, index), SPACES);
        put(band, piece, mark.place === 'foot' ? null : band.firstChild);
      }
    });
  return shown.length < marks.length ? ['no-place-across'] : [];
}

function automaticStyles(document: Document): Element {
  const [known] = named(document, 'automatic-styles');
  if (known) return known;
  const [before] = named(document, 'master-styles');
  return put(rootOf(document), make(document, SPACES.office, 'office:automatic-styles'), before ?? null);
}

/** The header or footer of a master page for all its pages, made where there is none (part 3, 16.9 to 16.11). */
function bands(document: Document, page: Element, name: 'header' | 'footer'): Element[] {
  const all = children(page).filter(
    ({ localName }) => localName === name || localName === `${name}-left` || localName === `${name}-first`,
  );
  // Left and first pages that show none of their own show the same as all others.
  const known = all.filter((band) => band.localName === name || attribute(band, 'display') !== 'false');
  for (const band of known)
    if (attribute(band, 'display') === 'false') {
      band.removeAttributeNS(SPACES.style, 'display');
      put(band, fragment(document, `<text:p text:style-name="${HIDDEN}"/>`, SPACES));
    }
  if (known.length > 0) return known;
  const made = fragment(
    document,
    `<style:${name}><text:p text:style-name="${MADE}"/></style:${name}>`,
    SPACES,
  );
  const before =
    name === 'header'
      ? page.firstChild
      : children(page).find(({ localName }) => !/^header/.test(localName ?? ''));
  enableBand(document, page, name);
  return [put(page, made, before ?? null)];
}

/** A page layout says how high its header is, or there is none (part 3, 16.6). */
function enableBand(document: Document, page: Element, name: 'header' | 'footer'): void {
  const layout = named(document, 'page-layout').find(
    (each) => attribute(each, 'name') === attribute(page, 'page-layout-name'),
  );
  if (!layout) return;
  const [style] = named(layout, `${name}-style`);
  if (style && children(style).length > 0) return;
  if (style) drop(style);
  const gap = name === 'header' ? 'fo:margin-bottom' : 'fo:margin-top';
  put(
    layout,
    fragment(
      document,
      `<style:${name}-style><style:header-footer-properties fo:min-height="0.6cm" ${gap}="0.3cm"/></style:${name}-style>`,
      SPACES,
    ),
    name === 'header' ? (named(layout, 'footer-style')[0] ?? null) : null,
  );
}

/** The size of the words of a shape stands in a style of its own, which the shape names. */
function textStyle({ points, colour }: PrintedMark, index: number): string {
  return `<style:style style:name="${STYLE}${index}Text" style:family="paragraph"><style:text-properties fo:font-size="${points}pt" fo:color="${colour}"/></style:style>`;
}

function styleMarkup({ place, points, colour }: PrintedMark, index: number): string {
  const text = `<style:text-properties fo:font-size="${points}pt" fo:color="${colour}"/>`;
  if (place !== 'across')
    return `<style:style style:name="${STYLE}${index}" style:family="paragraph"><style:paragraph-properties fo:text-align="center"/>${text}</style:style>`;
  return (
    `<style:style style:name="${STYLE}${index}" style:family="graphic"><style:graphic-properties draw:stroke="none" draw:fill="solid" draw:fill-color="${colour}" ` +
    'style:run-through="background" style:wrap="run-through" style:horizontal-pos="center" style:horizontal-rel="page-content" ' +
    `style:vertical-pos="middle" style:vertical-rel="page-content" style:flow-with-text="false"/>${text}</style:style>`
  );
}

/** Width of a letter in sizes, on average. */
const LETTER = 0.55;
const CENTIMETRES = 2.54 / 72;

function markMarkup(mark: PrintedMark, index: number): string {
  const { line, points, slant } = mark;
  if (mark.place !== 'across') return `<text:p text:style-name="${STYLE}${index}">${escaped(line)}</text:p>`;
  const width = (line.length * points * LETTER * CENTIMETRES).toFixed(2);
  const height = (points * 1.2 * CENTIMETRES).toFixed(2);
  // A shape made of words (part 3, 19.145: text path), turned about its middle.
  return (
    `<text:p text:style-name="${STYLE}Line"><draw:custom-shape text:anchor-type="paragraph" draw:z-index="0" draw:name="LanternMark${index}" draw:style-name="${STYLE}${index}" draw:text-style-name="${STYLE}${index}Text" ` +
    `svg:width="${width}cm" svg:height="${height}cm" draw:transform="rotate (${((slant * Math.PI) / 180).toFixed(4)})"><text:p text:style-name="${STYLE}${index}Text">${escaped(line)}</text:p>` +
    '<draw:enhanced-geometry svg:viewBox="0 0 21600 21600" draw:type="fontwork-plain-text" draw:text-path="true" draw:text-path-mode="shape" draw:text-path-scale="path" ' +
    'draw:modifiers="10800" draw:enhanced-path="M 0 0 L 21600 0 N M 0 21600 L 21600 21600 N"/></draw:custom-shape></text:p>'
  );
}
