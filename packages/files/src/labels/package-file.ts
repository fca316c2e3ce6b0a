import { type Zippable, zipSync } from 'fflate';
import type { Document } from '@xmldom/xmldom';
import { Budget } from '../budget.js';
import { expand, listZip } from '../zip.js';
import type { LabelRefusal } from './file-label.js';
import { parseXml, UnsoundXml, writeXml } from './xml.js';

/** All times in written packages: the earliest that the zip format has, so that the same content gives the same bytes. */
const TIME = new Date(1980, 0, 1);

/** A document that is a zip container, whole in memory, its parts in their order. */
export class PackageFile {
  private readonly open = new Map<string, Document>();

  private constructor(private readonly parts: Map<string, Uint8Array>) {}

  static async read(bytes: Uint8Array): Promise<PackageFile | LabelRefusal> {
    const listing = await listZip(bytes);
    if (listing.status === 'unreadable')
      return listing.reason === 'expands-too-far' ? 'expands-too-far' : 'corrupt';
    const budget = new Budget();
    const parts = new Map<string, Uint8Array>();
    for (const entry of listing.entries) {
      const expanded = await expand(entry, budget);
      if (expanded.status === 'unreadable')
        return expanded.reason === 'encrypted' || expanded.reason === 'expands-too-far'
          ? expanded.reason
          : 'corrupt';
      parts.set(entry.name, expanded.bytes);
    }
    return new PackageFile(parts);
  }

  get names(): string[] {
    return [...this.parts.keys()];
  }

  has(name: string): boolean {
    return this.parts.has(name);
  }

  text(name: string): string {
    const bytes = this.parts.get(name);
    if (!bytes) throw new UnsoundXml(`has no ${name}`);
    return new TextDecoder('utf-8', { fatal: false }).decode(bytes);
  }

  /** A part as XML; what is changed in it is written with the package. */
  xml(name: string): Document {
    const known = this.open.get(name);
    if (known) return known;
    const document = parseXml(this.text(name));
    this.open.set(name, document);
    return document;
  }

  set(name: string, text: string): void {
    this.open.delete(name);
    this.parts.set(name, new TextEncoder().encode(text));
  }

  remove(name: string): void {
    this.open.delete(name);
    this.parts.delete(name);
  }

  /** OpenDocument wants its media type first and not compressed (OpenDocument 1.3 part 2, 3.3). */
  write(): Uint8Array {
    for (const [name, document] of this.open)
      this.parts.set(name, new TextEncoder().encode(writeXml(document)));
    this.open.clear();
    const files: Zippable = {};
    for (const [name, bytes] of this.parts)
      files[name] = [
        bytes,
        { mtime: TIME, level: name === 'mimetype' || /\.(?:png|jpe?g|gif)$/i.test(name) ? 0 : 6 },
      ];
    return zipSync(files);
  }
}
