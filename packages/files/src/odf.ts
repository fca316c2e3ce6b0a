import { MAX_COLUMNS, MAX_PART_TEXT } from './limits.js';
import { walkMarkup } from './markup.js';
import { type Container, embeddedParts, partText, propertyLines } from './package-parts.js';
import { innerOf, type ReadPart, unreadable } from './part.js';

/** Rows or cells that a sheet says repeat: more than this are empty ones up to its edge. */
const MOST_REPEATED = 200;

/**
 * Reads an OpenDocument text, sheet or presentation (OASIS OpenDocument 1.3): text, headers and footers, comments,
 * pending edits, hidden sheets, speaker notes, properties and objects.
 */
export async function readOdf(container: Container): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  const find = (name: string) => container.entries.find((entry) => entry.name === name);
  const manifest = find('META-INF/manifest.xml');
  const listed = manifest ? await partText(container, manifest) : '';
  if (listed.includes('encryption-data')) return [unreadable(container.path, 'encrypted')];
  for (const name of ['content.xml', 'styles.xml']) {
    const entry = find(name);
    if (!entry) continue;
    const xml = await partText(container, entry);
    const reader = new OdfReader(name === 'styles.xml');
    const sections = xml === 'unreadable' ? undefined : reader.read(xml);
    if (!sections) parts.push(unreadable([...container.path, 'text'], 'corrupt'));
    else if (reader.isFull) parts.push(unreadable([...container.path, 'text'], 'expands-too-far'));
    else
      for (const [place, text] of sections)
        if (text.trim() !== '')
          parts.push({
            status: 'read',
            path: [...container.path, ...place.split('\0')],
            text,
            ...innerOf(place.split('\0').at(-1) ?? ''),
            ...reader.rowsOf(place),
          });
  }
  if (!find('content.xml')) parts.push(unreadable(container.path, 'corrupt'));
  const meta = find('meta.xml');
  const properties = meta ? propertyLines(await partText(container, meta)) : '';
  if (properties) parts.push({ status: 'read', path: [...container.path, 'properties'], text: properties });
  return [...parts, ...(await embeddedParts(container))];
}

/** Elements whose text stands apart from the text around them. */
const APART: Readonly<Record<string, string>> = {
  annotation: 'comments',
  'tracked-changes': 'pending deletion',
  notes: 'speaker notes',
  'note-body': 'footnotes',
  header: 'header',
  footer: 'footer',
  'header-left': 'header',
  'footer-left': 'footer',
};

class OdfReader {
  private readonly texts = new Map<string, string[]>();
  private readonly places: {
    readonly element: string;
    readonly place: string;
    /** Paragraphs that were open around it. */
    readonly around: number;
  }[] = [];
  private slides = 0;
  private inCells = 0;
  private repeat = 1;
  private columns = 0;
  private readonly hiddenStyles = new Set<string>();
  private style = '';
  private inParagraph = 0;
  private spreadsheet = false;
  /** Rows of the lines of each sheet, and the row that comes next. */
  private readonly rows = new Map<string, number[]>();
  private row = 1;
  private rowRepeat = 1;
  private length = 0;
  /** It would be longer than is read: spaces and cells can be said to repeat. */
  isFull = false;

  /** Styles hold no text of their own but headers and footers. */
  constructor(private readonly stylesOnly: boolean) {}

  read(xml: string): Map<string, string> | undefined {
    const wellFormed = walkMarkup(xml, {
      open: (name, attributes) => this.open(name, attributes),
      text: (text) => {
        if (this.inParagraph > 0) this.put(text);
      },
      close: (name) => this.close(name),
    });
    if (!wellFormed) return undefined;
    return new Map([...this.texts].map(([place, pieces]) => [place, pieces.join('')]));
  }

  /** Row of each line where a place is a sheet. */
  rowsOf(place: string): { readonly rows?: readonly number[]; readonly inner?: 'cell' } {
    const rows = this.rows.get(place);
    return rows ? { rows, inner: 'cell' } : {};
  }

  private get place(): string {
    return this.places.at(-1)?.place ?? (this.stylesOnly ? '' : 'text');
  }

  private put(text: string): void {
    if (this.place === '') return;
    this.length += text.length;
    this.isFull ||= this.length > MAX_PART_TEXT;
    if (this.isFull) return;
    const known = this.texts.get(this.place);
    if (known) known.push(text);
    else this.texts.set(this.place, [text]);
  }

  private open(name: string, attributes: Readonly<Record<string, string>>): void {
    const apart = APART[name];
    if (name === 'spreadsheet') this.spreadsheet = true;
    else if (name === 'style') this.style = attributes['name'] ?? '';
    else if (name === 'table-properties' && attributes['display'] === 'false')
      this.hiddenStyles.add(this.style);
    else if (apart) this.enter(name, this.slides > 0 && name === 'notes' ? `${apart} ${this.slides}` : apart);
    else if (name === 'table' && attributes['name'] && this.isSheet())
      this.enter(
        name,
        `sheet ${attributes['name']}${this.hiddenStyles.has(attributes['style-name'] ?? '') ? '\0hidden' : ''}`,
      );
    else if (name === 'page' && !this.stylesOnly) {
      this.slides += 1;
      this.enter(name, `slide ${this.slides}`);
    } else if (name === 'p' || name === 'h') this.inParagraph += 1;
    else if (name === 's') this.put(' '.repeat(Math.min(100, Number(attributes['c'] ?? 1) || 1)));
    else if (name === 'tab') this.put('\t');
    else if (name === 'line-break') this.put(this.inCells > 0 ? ' ' : '\n');
    else if (name === 'table-row')
      this.rowRepeat = Math.max(1, Number(attributes['number-rows-repeated'] ?? 1) || 1);
    else if (name === 'table-cell' || name === 'covered-table-cell') {
      this.inCells += 1;
      this.repeat = Math.min(MOST_REPEATED, Number(attributes['number-columns-repeated'] ?? 1) || 1);
    }
  }

  private close(name: string): void {
    if (this.places.at(-1)?.element === name) {
      this.put('\n');
      this.inParagraph = this.places.pop()?.around ?? 0;
    } else if (name === 'p' || name === 'h') {
      this.inParagraph -= 1;
      this.put(this.inCells > 0 && this.places.at(-1)?.element !== 'annotation' ? ' ' : '\n');
    } else if (name === 'table-cell' || name === 'covered-table-cell') {
      this.inCells -= 1;
      this.columns += this.repeat;
      if (this.columns <= MAX_COLUMNS) this.put('\t'.repeat(this.repeat));
    } else if (name === 'table-row') {
      this.endRow();
    }
  }

  private endRow(): void {
    this.put('\n');
    this.columns = 0;
    if (this.places.at(-1)?.element !== 'table') return;
    const rows = this.rows.get(this.place) ?? [];
    this.rows.set(this.place, rows);
    rows.push(this.row);
    this.row += this.rowRepeat;
  }

  /** Tables inside a text stay in it; the tables of a sheet are places of their own. */
  private isSheet(): boolean {
    return this.places.length === 0 && !this.stylesOnly && this.spreadsheet;
  }

  private enter(element: string, place: string): void {
    if (element === 'table') this.row = 1;
    this.places.push({ element, place, around: this.inParagraph });
    this.inParagraph = 0;
  }
}
