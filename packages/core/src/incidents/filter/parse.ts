import {
  type FieldName,
  type FieldTable,
  FILTER_FIELDS,
  type FilterField,
  type Operator,
  OPERATORS,
  operatorsFor,
} from './fields.js';
import {
  EVERYTHING,
  type Filter,
  type FilterFault,
  type FilterValue,
  MAX_FILTER_DEPTH,
  MAX_FILTER_LENGTH,
  MAX_FILTER_TERMS,
} from './filter.js';
import { timeOf } from './times.js';
import { type Token, tokensOf } from './tokens.js';

export type ParsedFilter<Name extends string = FieldName> =
  | { readonly status: 'read'; readonly filter: Filter<Name> }
  | { readonly status: 'faulty'; readonly fault: FilterFault };

/**
 * Reads a filter line: the grammar of RFC 7644, section 3.4.2.2, without value paths (`emails[…]`), since no field here
 * has parts. Keywords and field names may be written in capitals. An empty line holds for everything.
 */
export function parseFilter(line: string): ParsedFilter {
  return parseFilterOver(FILTER_FIELDS, line);
}

/** The same over the fields of another list. */
export function parseFilterOver<Name extends string>(
  fields: FieldTable<Name>,
  line: string,
): ParsedFilter<Name> {
  if (line.length > MAX_FILTER_LENGTH)
    return faulty({ code: 'too-long', at: MAX_FILTER_LENGTH, length: 1, word: '', expected: [] });
  const tokens = tokensOf(line);
  if (tokens.length === 0) return { status: 'read', filter: EVERYTHING };
  try {
    return { status: 'read', filter: new Reader(fields, tokens, line.length).whole() };
  } catch (error) {
    if (error instanceof Faulty) return faulty(error.fault);
    throw error;
  }
}

const faulty = (fault: FilterFault): ParsedFilter<never> => ({ status: 'faulty', fault });

/** Carries a fault out of the recursion; never leaves this file. */
class Faulty extends Error {
  constructor(readonly fault: FilterFault) {
    super(fault.code);
  }
}

/** Reads tokens by recursive descent: `or` binds weakest, then `and`, then `not` and parentheses. */
class Reader<Name extends string> {
  private at = 0;
  private terms = 0;

  constructor(
    private readonly fields: FieldTable<Name>,
    private readonly tokens: readonly Token[],
    private readonly end: number,
  ) {}

  whole(): Filter<Name> {
    const filter = this.or(0);
    const rest = this.tokens[this.at];
    if (rest) this.fail('joiner-expected', rest, ['and', 'or']);
    return filter;
  }

  private or(depth: number): Filter<Name> {
    return this.joined('or', () => this.and(depth));
  }

  private and(depth: number): Filter<Name> {
    return this.joined('and', () => this.one(depth));
  }

  private joined(kind: 'and' | 'or', next: () => Filter<Name>): Filter<Name> {
    const parts = [next()];
    while (this.keyword(kind)) parts.push(next());
    const [only] = parts;
    return parts.length === 1 && only ? only : { kind, parts };
  }

  private one(depth: number): Filter<Name> {
    const token = this.tokens[this.at];
    if (depth > MAX_FILTER_DEPTH) this.fail('too-deep', token, []);
    if (this.keyword('not')) {
      if (this.tokens[this.at]?.kind !== 'open')
        this.fail('parenthesis-expected', this.tokens[this.at], ['(']);
      return { kind: 'not', part: this.inParentheses(depth) };
    }
    return token?.kind === 'open' ? this.inParentheses(depth) : this.comparison();
  }

  private inParentheses(depth: number): Filter<Name> {
    const open = this.tokens[this.at];
    this.at += 1;
    const inner = this.or(depth + 1);
    if (this.tokens[this.at]?.kind !== 'close') {
      const next = this.tokens[this.at];
      if (next) this.fail('joiner-expected', next, ['and', 'or', ')']);
      this.fail('unclosed-parenthesis', open, [')']);
    }
    this.at += 1;
    return inner;
  }

  private comparison(): Filter<Name> {
    this.terms += 1;
    const named = this.tokens[this.at];
    if (this.terms > MAX_FILTER_TERMS) this.fail('too-many-terms', named, []);
    if (named?.kind !== 'word') this.fail('field-expected', named, []);
    const field = namesOf(this.fields).find((known) => known.toLowerCase() === named?.text.toLowerCase());
    if (!field) return this.fail('unknown-field', named, nearest(namesOf(this.fields), named?.text ?? ''));
    this.at += 1;
    const operator = this.operator(field);
    if (operator === 'pr') return { kind: 'present', field };
    return { kind: 'compare', field, operator, value: this.value(field) };
  }

  private operator(field: Name): Operator {
    const token = this.tokens[this.at];
    const operator = OPERATORS.find((known) => known === token?.text.toLowerCase());
    if (!operator) return this.fail('operator-expected', token, operatorsFor(this.fields[field]));
    if (!operatorsFor(this.fields[field]).includes(operator))
      this.fail('operator-not-for-field', token, operatorsFor(this.fields[field]));
    this.at += 1;
    return operator;
  }

  private value(field: Name): FilterValue {
    const token = this.tokens[this.at];
    if (token?.kind === 'broken-text') this.fail('unclosed-text', token, ['"']);
    const value = token && this.literal(token);
    if (value === undefined || !token)
      return this.fail('value-expected', token, [example(this.fields[field])]);
    const { kind, choices } = this.fields[field];
    const right = typeof value === (kind === 'number' ? 'number' : kind === 'yes-no' ? 'boolean' : 'string');
    if (!right) this.fail('wrong-kind', token, [example(this.fields[field])]);
    if (kind === 'time' && timeOf(String(value), 0) === null)
      this.fail('bad-time', token, [example(this.fields[field])]);
    const chosen = choices?.find((known) => known === String(value).toLowerCase());
    if (choices && !chosen) this.fail('unknown-choice', token, choices);
    this.at += 1;
    return chosen ?? value;
  }

  /** A JSON literal (RFC 8259); undefined where the token is none. */
  private literal(token: Token): FilterValue | undefined {
    if (token.kind === 'text') {
      try {
        return JSON.parse(token.text.replaceAll('\t', '\\t')) as string;
      } catch {
        this.fail('bad-escape', token, ['\\"', '\\\\']);
      }
    }
    const word = token.text.toLowerCase();
    if (word === 'true' || word === 'false') return word === 'true';
    return /^-?\d+(?:\.\d+)?(?:e[+-]?\d+)?$/u.test(word) && Number.isFinite(Number(word))
      ? Number(word)
      : undefined;
  }

  private keyword(word: 'and' | 'or' | 'not'): boolean {
    const token = this.tokens[this.at];
    if (token?.kind !== 'word' || token.text.toLowerCase() !== word) return false;
    this.at += 1;
    return true;
  }

  private fail(code: FilterFault['code'], token: Token | undefined, expected: readonly string[]): never {
    const [at, word] = token ? [token.at, token.text] : [this.end, ''];
    throw new Faulty({ code, at, length: Math.max(1, word.length), word: word.slice(0, 60), expected });
  }
}

/** A value that a field would take. */
function example({ kind, choices }: FilterField): string {
  if (choices) return `"${choices[0] ?? ''}"`;
  return { words: '"…"', number: '12', time: '"10 days ago"', 'yes-no': 'true', choice: '"…"' }[kind];
}

/** Fields that begin like a word, or contain it. */
function nearest(names: readonly string[], word: string): string[] {
  const folded = word.toLowerCase();
  const alike = names.filter(
    (name) => name.toLowerCase().startsWith(folded.slice(0, 3)) || folded.startsWith(name.toLowerCase()),
  );
  return alike.slice(0, 5);
}

const namesOf = <Name extends string>(fields: FieldTable<Name>): readonly Name[] =>
  Object.keys(fields) as Name[];
