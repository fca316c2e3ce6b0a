import { walkMarkup } from './markup.js';
import { type Container, embeddedParts, partText, propertyLines } from './package-parts.js';
import { innerOf, type ReadPart, unreadable } from './part.js';

/** Parts of a presentation that hold text (ECMA-376 part 1, 13.3), with what they are; `#` is the number of the slide. */
const TEXT_PARTS: readonly (readonly [RegExp, string])[] = [
  [/^ppt\/slides\/slide(\d+)\.xml$/, 'slide #'],
  [/^ppt\/notesSlides\/notesSlide(\d+)\.xml$/, 'speaker notes #'],
  [/^ppt\/comments\/(?:modernC|c)omment_?([^/]*)\.xml$/, 'comments'],
  [/^ppt\/slideMasters\/slideMaster(\d+)\.xml$/, 'slide master'],
  [/^docProps\/(?:core|custom|app)\.xml$/, 'properties'],
];

/** Reads slides (hidden ones too), speaker notes, comments, properties and objects of a .pptx. */
export async function readPptx(container: Container): Promise<ReadPart[]> {
  const parts: (ReadPart & { readonly order: number })[] = [];
  for (const entry of container.entries) {
    for (const [name, kind] of TEXT_PARTS) {
      const match = name.exec(entry.name);
      if (!match) continue;
      const order = Number(match[1] ?? 0) || 0;
      const xml = await partText(container, entry);
      const place = [...container.path, kind.replace('#', String(order))];
      const slide =
        xml === 'unreadable' ? undefined : kind === 'properties' ? properties(xml) : slideText(xml);
      if (!slide) parts.push({ ...unreadable(place, 'corrupt'), order });
      else if (slide.text.trim() !== '')
        parts.push({
          status: 'read',
          path: slide.hidden ? [...place, 'hidden'] : place,
          text: slide.text,
          order,
          ...innerOf(kind),
        });
    }
  }
  const inOrder = parts.sort((left, right) => left.order - right.order);
  return [
    ...inOrder.map(({ order: _order, ...part }) => part as ReadPart),
    ...(await embeddedParts(container)),
  ];
}

function properties(xml: string): { text: string; hidden: boolean } | undefined {
  const text = propertyLines(xml);
  return text === undefined ? undefined : { text, hidden: false };
}

/** Text of a slide, a line a paragraph and a tab a cell; undefined when it is not well-formed. */
function slideText(xml: string): { text: string; hidden: boolean } | undefined {
  const pieces: string[] = [];
  let inText = 0;
  let cells = 0;
  let hidden = false;
  const isText = (name: string): boolean => name === 't' || name === 'text';
  const wellFormed = walkMarkup(xml, {
    open(name, attributes) {
      if (name === 'sld' && attributes['show'] === '0') hidden = true;
      if (isText(name)) inText += 1;
      else if (name === 'tc') cells += 1;
      else if (name === 'br') pieces.push('\n');
      if (attributes['descr']) pieces.push(attributes['descr'], '\n');
    },
    text(text) {
      if (inText > 0) pieces.push(text);
    },
    close(name) {
      if (isText(name)) {
        inText -= 1;
        if (name === 'text') pieces.push('\n');
      } else if (name === 'p') pieces.push(cells > 0 ? ' ' : '\n');
      else if (name === 'tc') {
        cells -= 1;
        pieces.push('\t');
      } else if (name === 'tr') pieces.push('\n');
    },
  });
  return wellFormed ? { text: pieces.join(''), hidden } : undefined;
}
