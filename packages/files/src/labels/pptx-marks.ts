import type { PrintedMark } from '@lantern/core/labels';
import type { PackageFile } from './package-file.js';
import { attribute, children, drop, escaped, fragment, named, put } from './xml.js';

const SLIDE = /^ppt\/slides\/slide\d+\.xml$/;
const SPACES = {
  p: 'http://schemas.openxmlformats.org/presentationml/2006/main',
  a: 'http://schemas.openxmlformats.org/drawingml/2006/main',
};
const NAME = 'LanternMark';
/** English metric units in a point (ECMA-376 part 1, 20.1.2.1). */
const EMU = 12_700;

export function removeSlideMarks(file: PackageFile): void {
  for (const name of file.names.filter((each) => SLIDE.test(each))) {
    if (!file.text(name).includes(NAME)) continue;
    for (const properties of named(file.xml(name), 'cNvPr')) {
      if (!attribute(properties, 'name').startsWith(NAME)) continue;
      const shape = properties.parentNode?.parentNode;
      if (shape) drop(shape as Parameters<typeof drop>[0]);
    }
  }
}

/** Prints marks on every slide: lines at top and foot over everything, a line across under everything. */
export function addSlideMarks(file: PackageFile, marks: readonly PrintedMark[]): void {
  const size = named(file.xml('ppt/presentation.xml'), 'sldSz')[0];
  const page = {
    width: (size && Number(attribute(size, 'cx'))) || 9_144_000,
    height: (size && Number(attribute(size, 'cy'))) || 6_858_000,
  };
  for (const name of file.names.filter((each) => SLIDE.test(each))) {
    const document = file.xml(name);
    const [tree] = named(document, 'spTree');
    if (!tree) continue;
    let id = Math.max(1, ...named(document, 'cNvPr').map((each) => Number(attribute(each, 'id')) || 0));
    for (const mark of marks) {
      id += 1;
      const shape = fragment(document, shapeMarkup(mark, page, id), SPACES);
      // The first two children are the properties of the group itself.
      const under = children(tree).find(({ localName }) => !/^(?:nvGrpSpPr|grpSpPr)$/.test(localName ?? ''));
      put(tree, shape, mark.place === 'across' ? (under ?? null) : null);
    }
  }
}

function shapeMarkup(mark: PrintedMark, page: { width: number; height: number }, id: number): string {
  const height = Math.round(mark.points * 1.8 * EMU);
  const y = { top: 0, foot: page.height - height, across: Math.round((page.height - height) / 2) }[
    mark.place
  ];
  // Angles are sixtieths of a thousandth of a degree, clockwise (20.1.10.3).
  const turn =
    mark.place === 'across' && mark.slant !== 0
      ? ` rot="${Math.round(((360 - mark.slant) % 360) * 60_000)}"`
      : '';
  return (
    `<p:sp><p:nvSpPr><p:cNvPr id="${id}" name="${NAME} ${mark.place}"/><p:cNvSpPr txBox="1"/><p:nvPr userDrawn="1"/></p:nvSpPr>` +
    `<p:spPr><a:xfrm${turn}><a:off x="0" y="${y}"/><a:ext cx="${page.width}" cy="${height}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:noFill/></p:spPr>` +
    `<p:txBody><a:bodyPr wrap="square" anchor="ctr"/><a:lstStyle/><a:p><a:pPr algn="ctr"/><a:r><a:rPr lang="en" sz="${Math.round(mark.points * 100)}">` +
    `<a:solidFill><a:srgbClr val="${mark.colour.slice(1).toUpperCase()}"/></a:solidFill></a:rPr><a:t>${escaped(mark.line)}</a:t></a:r></a:p></p:txBody></p:sp>`
  );
}
