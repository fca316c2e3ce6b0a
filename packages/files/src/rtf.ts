import iconv from 'iconv-lite';

/** Groups that hold no text of the page: fonts, colours, styles, pictures as digits. */
const SKIPPED = new Set([
  'fonttbl', 'colortbl', 'stylesheet', 'listtable', 'listoverridetable', 'rsidtbl', 'generator', 'pict', 'objdata',
  'themedata', 'colorschememapping', 'datastore', 'latentstyles', 'xmlnstbl', 'mmathPr', 'fldinst', 'blipuid', 'panose',
]); // prettier-ignore
/** Groups whose text stands apart, with what they are. */
const APART: Readonly<Record<string, string>> = {
  header: 'header',
  headerl: 'header',
  headerr: 'header',
  headerf: 'header',
  footer: 'footer',
  footerl: 'footer',
  footerr: 'footer',
  footerf: 'footer',
  footnote: 'footnotes',
  annotation: 'comments',
  info: 'properties',
};
const SIGNS: Readonly<Record<string, string>> = {
  par: '\n', line: '\n', sect: '\n', page: '\n', row: '\n', cell: '\t', nestcell: '\t', tab: '\t', emdash: '—', endash: '–',
  lquote: '‘', rquote: '’', ldblquote: '“', rdblquote: '”', bullet: '•', enspace: ' ', emspace: ' ',
}; // prettier-ignore
/** Deepest groups that are followed; programs make a dozen. */
const MAX_GROUPS = 500;

interface Group {
  readonly place: string;
  readonly skipped: boolean;
  hidden: boolean;
  deleted: boolean;
  /** Characters that stand behind a Unicode one for readers that know none. */
  fallback: number;
}

/** One control word or symbol, one hexadecimal byte, a brace, or a stretch of plain text (RTF specification 1.9.1). */
const TOKEN =
  /\\([a-zA-Z]{1,32})(-?\d{1,10})? ?|\\'([0-9a-fA-F]{2})|\\([^a-zA-Z])|([{}])|([^\\{}\r\n]+)|[\r\n]+/gs;

/** Texts of a rich text file by where they stand; undefined where its groups do not close. */
export function readRtf(bytes: Uint8Array): Map<string, string> | undefined {
  const source = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('latin1');
  return new RtfReader().read(source);
}

class RtfReader {
  private readonly texts = new Map<string, string[]>();
  private readonly groups: Group[] = [
    { place: 'text', skipped: false, hidden: false, deleted: false, fallback: 1 },
  ];
  private encoding = 'windows-1252';
  private waiting: number[] = [];
  /** Fallback characters still to be left out. */
  private skip = 0;
  private opened = false;

  read(source: string): Map<string, string> | undefined {
    for (const match of source.matchAll(TOKEN)) {
      const [, word, parameter, byte, symbol, brace, text] = match;
      if (byte !== undefined) this.byte(Number.parseInt(byte, 16));
      else {
        this.flush();
        if (brace === '{') {
          if (!this.open()) return undefined;
        } else if (brace === '}') {
          if (this.groups.length < 2) return undefined;
          this.groups.pop();
        } else if (word !== undefined) this.word(word, parameter === undefined ? null : Number(parameter));
        else if (symbol !== undefined) this.symbol(symbol);
        else if (text !== undefined) this.text(text);
      }
    }
    this.flush();
    if (this.groups.length !== 1) return undefined;
    return new Map([...this.texts].map(([place, pieces]) => [place, pieces.join('')]));
  }

  private get group(): Group {
    return this.groups.at(-1)!;
  }

  private open(): boolean {
    if (this.groups.length > MAX_GROUPS) return false;
    this.groups.push({ ...this.group });
    this.opened = true;
    return true;
  }

  private become(changes: Partial<Group>): void {
    this.groups[this.groups.length - 1] = { ...this.group, ...changes };
  }

  private word(word: string, parameter: number | null): void {
    const first = this.opened;
    this.opened = false;
    if (word === 'ansicpg' && parameter !== null && iconv.encodingExists(`cp${parameter}`))
      this.encoding = `cp${parameter}`;
    else if (word === 'mac') this.encoding = 'macintosh';
    else if (word === 'uc') this.become({ fallback: Math.max(0, parameter ?? 1) });
    else if (word === 'u' && parameter !== null) {
      this.put(String.fromCharCode(parameter < 0 ? parameter + 65_536 : parameter));
      this.skip = this.group.fallback;
    } else if (word === 'v') this.become({ hidden: parameter !== 0 });
    else if (word === 'deleted') this.become({ deleted: parameter !== 0 });
    else if (word === 'plain') this.become({ hidden: false, deleted: false });
    else if (first && SKIPPED.has(word)) this.become({ skipped: true });
    else if (APART[word]) this.become({ place: APART[word] });
    else if (SIGNS[word]) this.put(SIGNS[word]);
    if (this.group.place === 'properties' && first) this.put('\n');
  }

  private symbol(symbol: string): void {
    this.opened = symbol === '*' && this.opened;
    if (symbol === '~') this.put(' ');
    else if (symbol === '_') this.put('-');
    else if (symbol === '\\' || symbol === '{' || symbol === '}') this.put(symbol);
    else if (symbol === '\n' || symbol === '\r') this.put('\n');
  }

  private text(text: string): void {
    this.opened = false;
    const from = Math.min(this.skip, text.length);
    this.skip -= from;
    this.put(text.slice(from));
  }

  private byte(value: number): void {
    if (this.skip > 0) this.skip -= 1;
    else this.waiting.push(value);
  }

  /** Bytes of one character may come one by one. */
  private flush(): void {
    if (this.waiting.length === 0) return;
    const bytes = Buffer.from(this.waiting);
    this.waiting = [];
    this.put(iconv.decode(bytes, this.encoding));
  }

  private put(text: string): void {
    const { place, skipped, hidden, deleted } = this.group;
    if (skipped || text === '') return;
    const where = deleted ? `${place}\0pending deletion` : hidden ? `${place}\0hidden text` : place;
    const known = this.texts.get(where);
    if (known) known.push(text);
    else this.texts.set(where, [text]);
  }
}
