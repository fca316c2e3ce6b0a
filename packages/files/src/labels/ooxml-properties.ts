import {
  type FileLabel,
  foreignFrom,
  type FileLabels,
  labelFields,
  labelFrom,
  MARKS_FIELD,
} from './file-label.js';
import type { PackageFile } from './package-file.js';
import { attribute, children, drop, make, put, rootOf } from './xml.js';

const PART = 'docProps/custom.xml';
const SPACE = 'http://schemas.openxmlformats.org/officeDocument/2006/custom-properties';
const VALUES = 'http://schemas.openxmlformats.org/officeDocument/2006/docPropsVTypes';
/** Format id of properties that people define (ECMA-376 part 1, 22.3.2.1). */
const FORMAT = '{D5CDD505-2E9C-101B-9397-08002B2CF9AE}';
const RELATIONSHIP = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/custom-properties';
const CONTENT_TYPE = 'application/vnd.openxmlformats-officedocument.custom-properties+xml';
/** First identifier that is free for use (22.3.2.2). */
const FIRST_ID = 2;

const EMPTY = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Properties xmlns="${SPACE}" xmlns:vt="${VALUES}"></Properties>`;

/** Custom properties of an OOXML file (ECMA-376 part 1, 22.3) by name. */
export function readProperties(file: PackageFile): Map<string, string> {
  if (!file.has(PART)) return new Map();
  return new Map(
    children(rootOf(file.xml(PART))).map((property) => [
      attribute(property, 'name'),
      property.textContent ?? '',
    ]),
  );
}

export function readOoxmlLabel(file: PackageFile): FileLabels {
  const properties = readProperties(file);
  return { own: labelFrom(properties), foreign: foreignFrom(properties) };
}

/** Sets or takes off the label's properties; `marks` is what must be found again when the label changes. */
export function writeOoxmlLabel(file: PackageFile, label: FileLabel | null, marks: string | null): void {
  if (!file.has(PART)) {
    if (!label) return;
    file.set(PART, EMPTY);
    register(file);
  }
  const document = file.xml(PART);
  const root = rootOf(document);
  for (const property of children(root))
    if (attribute(property, 'name').startsWith('LanternLabel')) drop(property);
  if (label) {
    let next = Math.max(
      FIRST_ID - 1,
      ...children(root).map((property) => Number(attribute(property, 'pid')) || 0),
    );
    const fields = [...labelFields(label), ...(marks === null ? [] : [[MARKS_FIELD, marks] as const])];
    for (const [name, value] of fields) {
      next += 1;
      const property = put(
        root,
        make(document, SPACE, 'property', { fmtid: FORMAT, pid: String(next), name }),
      );
      put(property, make(document, VALUES, 'vt:lpwstr')).appendChild(document.createTextNode(value));
    }
  }
  if (children(root).length === 0) unregister(file);
}

function register(file: PackageFile): void {
  addContentType(file, PART, CONTENT_TYPE);
  addRelationship(file, '_rels/.rels', RELATIONSHIP, PART);
}

function unregister(file: PackageFile): void {
  file.remove(PART);
  removeContentType(file, PART);
  removeRelationship(file, '_rels/.rels', (target) => target.replace(/^\//, '') === PART);
}

const TYPES = 'http://schemas.openxmlformats.org/package/2006/content-types';
const RELATIONSHIPS = 'http://schemas.openxmlformats.org/package/2006/relationships';

export function addContentType(file: PackageFile, part: string, type: string): void {
  const document = file.xml('[Content_Types].xml');
  const name = `/${part}`;
  const known = children(rootOf(document)).some((entry) => attribute(entry, 'PartName') === name);
  if (!known) put(rootOf(document), make(document, TYPES, 'Override', { PartName: name, ContentType: type }));
}

export function removeContentType(file: PackageFile, part: string): void {
  for (const entry of children(rootOf(file.xml('[Content_Types].xml'))))
    if (attribute(entry, 'PartName') === `/${part}`) drop(entry);
}

/** Adds a relationship to a part that has such a file of relationships or gets one; gives its id back. */
export function addRelationship(file: PackageFile, where: string, type: string, target: string): string {
  if (!file.has(where))
    file.set(
      where,
      `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="${RELATIONSHIPS}"/>`,
    );
  const document = file.xml(where);
  const taken = new Set(children(rootOf(document)).map((entry) => attribute(entry, 'Id')));
  let number = 1;
  while (taken.has(`rIdLantern${number}`)) number += 1;
  const id = `rIdLantern${number}`;
  put(
    rootOf(document),
    make(document, RELATIONSHIPS, 'Relationship', { Id: id, Type: type, Target: target }),
  );
  return id;
}

export function removeRelationship(file: PackageFile, where: string, is: (target: string) => boolean): void {
  if (!file.has(where)) return;
  for (const entry of children(rootOf(file.xml(where)))) if (is(attribute(entry, 'Target'))) drop(entry);
}

/** Targets of a part's relationships by their ids. */
export function relationships(file: PackageFile, where: string): Map<string, string> {
  if (!file.has(where)) return new Map();
  return new Map(
    children(rootOf(file.xml(where))).map((entry) => [attribute(entry, 'Id'), attribute(entry, 'Target')]),
  );
}
