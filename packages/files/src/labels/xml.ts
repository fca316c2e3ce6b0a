import { DOMParser, type Document, type Element, type Node, XMLSerializer } from '@xmldom/xmldom';

/** Thrown where a part is not XML that may be changed; callers answer with `corrupt`. */
export class UnsoundXml extends Error {}

/** Parses a part. A document type is refused: office files have none, and entities are where attacks hide. */
export function parseXml(text: string): Document {
  if (/<!DOCTYPE/i.test(text)) throw new UnsoundXml('has a document type');
  try {
    return new DOMParser({
      onError: (level, message) => {
        if (level !== 'warning') throw new UnsoundXml(message);
      },
    }).parseFromString(text.replace(/^\uFEFF/, ''), 'text/xml');
  } catch (error) {
    throw error instanceof UnsoundXml ? error : new UnsoundXml('is not well-formed');
  }
}

export function writeXml(document: Document): string {
  return new XMLSerializer().serializeToString(document);
}

export function rootOf(document: Document): Element {
  const root = document.documentElement;
  if (!root) throw new UnsoundXml('has no root');
  return root;
}

/** Elements below `from` with a local name, in document order. */
export function named(from: Document | Element, name: string): Element[] {
  return [...from.getElementsByTagNameNS('*', name)];
}

/** Elements right inside `from`. */
export function children(from: Element): Element[] {
  return [...from.childNodes].filter(isElement);
}

export function isElement(node: Node): node is Element {
  return node.nodeType === 1;
}

/** Attribute by its local name, whatever its prefix. */
export function attribute(element: Element, name: string): string {
  for (const each of element.attributes) if (each.localName === name || each.name === name) return each.value;
  return '';
}

/** Puts a new element into another, before `before` or at the end. */
export function put(into: Element, element: Element, before: Node | null = null): Element {
  return into.insertBefore(element, before) as Element;
}

/** Makes an element with attributes; names with a prefix are written as they are given. */
export function make(
  document: Document,
  namespace: string,
  name: string,
  attributes: Readonly<Record<string, string>> = {},
): Element {
  const element = document.createElementNS(namespace, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  return element;
}

/** Parses a piece of markup and brings it into a document. `spaces` are the declarations it needs. */
export function fragment(
  document: Document,
  markup: string,
  spaces: Readonly<Record<string, string>>,
): Element {
  const declared = Object.entries(spaces)
    .map(([prefix, uri]) => ` xmlns:${prefix}="${uri}"`)
    .join('');
  const [piece] = children(rootOf(parseXml(`<lantern-piece${declared}>${markup}</lantern-piece>`)));
  if (!piece) throw new UnsoundXml('is empty');
  return document.importNode(piece, true);
}

/** Text as it stands in markup. Characters that XML 1.0 does not have (2.2) are left out. */
export function escaped(text: string): string {
  return text
    .replace(/[\p{Cc}\uFFFE\uFFFF]/gu, (each) => (/[\t\n\r]/.test(each) ? each : ''))
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');
}

export function drop(element: Element): void {
  element.parentNode?.removeChild(element);
}
