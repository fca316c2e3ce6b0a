import { SaxesParser } from 'saxes';

/** What a reader of XML wants to hear; names come without their prefix. */
export interface MarkupListener {
  open(name: string, attributes: Readonly<Record<string, string>>): void;
  text(text: string): void;
  close(name: string): void;
}

const localName = (name: string): string => name.slice(name.indexOf(':') + 1);

/** Walks an XML document; false when it is not well-formed. Entities of its own making are never expanded. */
export function walkMarkup(xml: string, listener: MarkupListener): boolean {
  const parser = new SaxesParser();
  parser.on('error', () => {
    // Going on after the first fault costs time that grows with the square of what follows.
    throw new Unsound();
  });
  parser.on('opentag', (tag) => {
    listener.open(
      localName(tag.name),
      Object.fromEntries(Object.entries(tag.attributes).map(([key, value]) => [localName(key), value])),
    );
  });
  parser.on('text', (text) => listener.text(text));
  parser.on('closetag', (tag) => listener.close(localName(tag.name)));
  try {
    parser.write(xml).close();
    return true;
  } catch (error) {
    if (error instanceof Unsound) return false;
    throw error;
  }
}

/** Thrown at the first place where a document is not well-formed. */
class Unsound extends Error {}
