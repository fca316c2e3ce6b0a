import { createHmac } from 'node:crypto';
import { isDate } from 'node:util/types';

/** Domain of addresses in the place of real ones: nobody has it (RFC 2606). */
const HIDDEN_DOMAIN = 'hidden.invalid';
/** Whoever names a real address of the organisation while names are hidden means nobody. */
const NOBODY = `nobody@${HIDDEN_DOMAIN}`;
/** Letters and digits that are not taken for each other. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';
const CODE_LENGTH = 8;
/** Longest name that is looked for within a text, in words. */
const MOST_WORDS = 5;
/** People whom no directory knows and who were hidden lately. */
const MOST_REMEMBERED = 20_000;
/** Parts of an answer that name whoever works at the desk. */
const COLLEAGUES = new Set(['by', 'actor', 'assignee', 'changedBy', 'updatedBy', 'createdBy']);

const ADDRESS = /[^\s@"(),:;<>[\]\\]{1,64}@[\p{L}\p{N}.-]{1,253}/gu;
const WORD = /[\p{L}\p{M}\p{N}’'.-]+/gu;

export interface KnownPerson {
  readonly address: string;
  readonly name: string;
}

/** Who is hidden behind what. One person has one code everywhere, so that their movements can still be seen together. */
export class Pseudonyms {
  private readonly byName = new Map<string, string>();
  private readonly byCode = new Map<string, string>();

  constructor(
    private readonly key: Buffer,
    people: Iterable<KnownPerson>,
    private readonly given: {
      /** Whether an address is one of the organisation. */
      readonly isInside: (address: string) => boolean;
      /** Names and addresses of those who work at the desk, in small letters. */
      readonly colleagues: ReadonlySet<string>;
      /** People whom no directory knows, by the codes that were shown for them. */
      readonly remembered: Map<string, string>;
    },
  ) {
    for (const { address, name } of people) {
      const code = this.codeOf(address);
      this.byCode.set(code, address);
      if (name.includes(' ')) this.byName.set(plain(name), code);
    }
  }

  /** An answer without names: addresses of the organisation, names of its people, and whatever stands beside them. */
  hide<Value>(value: Value): Value {
    return this.hidden(value, '') as Value;
  }

  /** What is asked for, with real addresses in the place of hidden ones, and nobody in the place of real ones. */
  show<Value>(value: Value): Value {
    return this.shown(value, '') as Value;
  }

  private hidden(value: unknown, key: string): unknown {
    if (typeof value === 'string') return this.keeps(value, key) ? value : this.hiddenText(value);
    if (Array.isArray(value)) return value.map((each) => this.hidden(each, key));
    if (typeof value !== 'object' || value === null) return value;
    if (isDate(value)) return value;
    const person = this.personIn(value);
    return Object.fromEntries(
      Object.entries(value).map(([name, inner]) => {
        if (person !== null && (name === 'name' || name === 'personName')) return [name, nameOf(person)];
        // A key can be an address too.
        return [this.hiddenText(name), this.hidden(inner, COLLEAGUES.has(key) ? key : name)];
      }),
    );
  }

  /** The code of whom an object is about; null where it is about nobody of the organisation. */
  private personIn(value: object): string | null {
    const { address, personAddress, email } = value as Record<string, unknown>;
    const found = [address, personAddress, email].find(
      (each): each is string => typeof each === 'string' && each.includes('@'),
    );
    return found !== undefined && this.isHidden(found) ? this.remember(found) : null;
  }

  private keeps(value: string, key: string): boolean {
    return COLLEAGUES.has(key) && this.given.colleagues.has(value.toLowerCase());
  }

  private isHidden(address: string): boolean {
    const small = address.toLowerCase();
    return this.given.isInside(small) || this.byCode.get(this.codeOf(small)) !== undefined;
  }

  private hiddenText(text: string): string {
    const withoutAddresses = text.includes('@')
      ? text.replace(ADDRESS, (address) =>
          this.isHidden(address) ? addressOf(this.remember(address)) : address,
        )
      : text;
    return this.withoutNames(withoutAddresses);
  }

  private withoutNames(text: string): string {
    const words = [...text.matchAll(WORD)];
    let out = '';
    let done = 0;
    for (let at = 0; at < words.length; at += 1) {
      const begin = words[at]?.index ?? 0;
      if (begin < done) continue;
      for (let count = Math.min(MOST_WORDS, words.length - at); count >= 2; count -= 1) {
        const last = words[at + count - 1];
        const end = (last?.index ?? 0) + (last?.[0].length ?? 0);
        const code = this.byName.get(plain(text.slice(begin, end)));
        if (code === undefined) continue;
        out += text.slice(done, begin) + nameOf(code);
        done = end;
        break;
      }
    }
    return done === 0 ? text : out + text.slice(done);
  }

  private shown(value: unknown, key: string): unknown {
    if (typeof value === 'string')
      return value.includes('@')
        ? value.replace(ADDRESS, (address) => this.shownAddress(address, key))
        : value;
    if (Array.isArray(value)) return value.map((each) => this.shown(each, key));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, this.shown(inner, name)]));
  }

  private shownAddress(address: string, key: string): string {
    const small = address.toLowerCase();
    if (small.endsWith(`@${HIDDEN_DOMAIN}`)) {
      const code = small.slice(0, -HIDDEN_DOMAIN.length - 1).replace('-', '');
      return this.byCode.get(code) ?? this.given.remembered.get(code) ?? address;
    }
    // Somebody who works at the desk can be called in a note.
    if (key === 'text' && this.given.colleagues.has(small)) return address;
    return this.isHidden(small) ? NOBODY : address;
  }

  private remember(address: string): string {
    const code = this.codeOf(address);
    const { remembered } = this.given;
    if (!this.byCode.has(code) && !remembered.has(code)) {
      remembered.set(code, address.toLowerCase());
      const [oldest] = remembered.keys();
      if (remembered.size > MOST_REMEMBERED && oldest !== undefined) remembered.delete(oldest);
    }
    return code;
  }

  private codeOf(address: string): string {
    const digest = createHmac('sha256', this.key).update(`hidden name of ${address.toLowerCase()}`).digest();
    let code = '';
    for (let at = 0; at < CODE_LENGTH; at += 1) code += SIGNS[(digest[at] ?? 0) % SIGNS.length] ?? '';
    return code;
  }
}

const halves = (code: string): string => `${code.slice(0, 4)}-${code.slice(4)}`;
const nameOf = (code: string): string => `Person ${halves(code).toUpperCase()}`;
const addressOf = (code: string): string => `${halves(code)}@${HIDDEN_DOMAIN}`;
const plain = (name: string): string => name.toLowerCase().replace(/\s+/gu, ' ').trim();
