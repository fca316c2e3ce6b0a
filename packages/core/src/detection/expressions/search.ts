import { Alphabet } from './alphabet.js';
import { type Automaton, buildAutomaton } from './automaton.js';
import { Machine } from './machine.js';
import type { Piece } from './read.js';

/** Longest value of an own expression, in units: longer stretches are texts, which likeness to documents serves. */
export const MAX_VALUE = 1_000;

/** A place where an expression holds, in units of the searched text, end exclusive. */
export interface ExpressionMatch {
  /** Place of the expression among those that are looked for. */
  readonly expression: number;
  readonly start: number;
  readonly end: number;
}

/** Where reading begins, which way it goes, and the last place that may be told. */
interface Walk {
  readonly from: number;
  readonly way: 1 | -1;
  readonly bound: number;
}

interface OneExpression {
  readonly forwards: Machine;
  readonly backwards: Machine;
}

/**
 * Finds every place of many expressions in one pass, the first start and the longest end of each, one behind the other.
 * A machine for all of them says where something ends; only there two of that expression alone find its start and its
 * end. Time grows with the length of the text whatever the expressions are: there is no way back to take, and what is
 * read again is at most {@link MAX_VALUE} units.
 */
export class ExpressionSearch {
  private readonly alphabet: Alphabet;
  private readonly all: Machine;
  private readonly each: (OneExpression | null)[];
  private readonly lastEnd: Int32Array;

  constructor(private readonly pieces: readonly Piece[]) {
    const automaton = buildAutomaton(pieces, false);
    this.alphabet = new Alphabet(automaton);
    this.all = new Machine(automaton, this.alphabet, { anywhere: true, backwards: false });
    this.each = pieces.map(() => null);
    this.lastEnd = new Int32Array(pieces.length);
  }

  /** Every match, by its end; those of one expression never overlap. */
  find(units: Uint16Array): ExpressionMatch[] {
    const matches: ExpressionMatch[] = [];
    if (this.pieces.length === 0) return matches;
    const { all } = this;
    const { letterOf, edge } = this.alphabet;
    const { width } = all;
    let { steps, found } = all;
    this.lastEnd.fill(0);
    let state = all.begin(edge);
    for (let at = 0; at <= units.length; at += 1) {
      const letter = at < units.length ? letterOf[units[at]!]! : edge;
      const step = state * width + letter;
      let next = steps[step]! - 1;
      let list = found[step]!;
      if (next < 0) {
        next = all.work(state, letter);
        list = all.lastFound;
        ({ steps, found } = all);
      }
      if (list !== 0) this.report(units, at, all.lists[list]!, matches);
      state = next;
    }
    return matches;
  }

  private report(
    units: Uint16Array,
    at: number,
    expressions: readonly number[],
    matches: ExpressionMatch[],
  ): void {
    for (const expression of expressions) {
      if (at <= this.lastEnd[expression]!) continue;
      const { backwards, forwards } = this.machinesOf(expression);
      const start = this.furthest(backwards, units, { from: at, way: -1, bound: this.lastEnd[expression]! });
      if (start < 0 || start === at) continue;
      const end = this.furthest(forwards, units, { from: start, way: 1, bound: units.length });
      this.lastEnd[expression] = end;
      matches.push({ expression, start, end });
    }
  }

  /** The place furthest from `from` where the machine says found, going one way up to `bound`; -1 for none. */
  private furthest(machine: Machine, units: Uint16Array, { from, way, bound }: Walk): number {
    const { letterOf, edge } = this.alphabet;
    const letterAt = (index: number): number =>
      index >= 0 && index < units.length ? letterOf[units[index]!]! : edge;
    const offset = way === 1 ? 0 : -1;
    let state = machine.begin(letterAt(from - 1 - offset));
    let last = -1;
    for (let count = 0; count <= MAX_VALUE; count += 1) {
      const place = from + count * way;
      const letter = letterAt(place + offset);
      const step = state * machine.width + letter;
      let next = machine.steps[step]! - 1;
      let list = machine.found[step]!;
      if (next < 0) {
        next = machine.work(state, letter);
        list = machine.lastFound;
      }
      if (list !== 0) last = place;
      if (place === bound || machine.isDead(next)) break;
      state = next;
    }
    return last;
  }

  private machinesOf(expression: number): OneExpression {
    const known = this.each[expression];
    if (known) return known;
    const piece = this.pieces[expression]!;
    const machine = (automaton: Automaton, backwards: boolean): Machine =>
      new Machine(automaton, this.alphabet, { anywhere: false, backwards });
    const made = {
      forwards: machine(buildAutomaton([piece], false), false),
      backwards: machine(buildAutomaton([piece], true), true),
    };
    this.each[expression] = made;
    return made;
  }
}
