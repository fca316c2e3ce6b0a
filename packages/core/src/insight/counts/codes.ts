const PLAIN = /^[\x20-\x7e]*$/u;

/** Texts of one column by small numbers, without regard to capitals and accents. 0 stands for no value. */
export class Codes {
  private readonly known = new Map<string, number>();
  /** Spellings that came before: most values come again and again as they are. */
  private readonly spelled = new Map<string, number>();
  private readonly texts: string[] = [''];
  /**
   * Whether every text is of printable ASCII. Beyond it the database compares by tables that are not ours, so that comparisons
   * of text are left to it.
   */
  isPlain = true;

  /** One more than the highest code. */
  get size(): number {
    return this.texts.length;
  }

  /** The code of a text, a new one where it has none; 0 for none. */
  codeOf(text: string | null): number {
    if (text === null) return 0;
    const spelled = this.spelled.get(text);
    if (spelled !== undefined) return spelled;
    const key = folded(text);
    const code = this.known.get(key) ?? this.texts.length;
    if (code === this.texts.length) {
      this.known.set(key, code);
      this.texts.push(text);
      if (!isPlainText(text)) this.isPlain = false;
    }
    this.spelled.set(text, code);
    return code;
  }

  find(text: string): number | undefined {
    return this.known.get(folded(text));
  }

  /** The text as it came first; null for code 0. */
  textOf(code: number): string | null {
    return code === 0 ? null : (this.texts[code] ?? null);
  }

  /** Marks the codes whose text, in small letters, passes a test. */
  matching(test: (text: string) => boolean): Uint8Array {
    const marks = new Uint8Array(this.size);
    for (let code = 1; code < this.texts.length; code += 1)
      if (test((this.texts[code] ?? '').toLowerCase())) marks[code] = 1;
    return marks;
  }
}

export const isPlainText = (text: string): boolean => PLAIN.test(text);

const folded = (text: string): string =>
  (isPlainText(text) ? text : text.normalize('NFD').replace(/\p{M}/gu, '')).toLowerCase();
