import type { Alphabet } from './alphabet.js';
import { ASK, type Automaton, FORK, FOUND, type Question, READ } from './automaton.js';
import { BREAK_RANGES, WORD_RANGES } from './read.js';

/** Steps that are kept before all are forgotten: some 10 MB; texts that need more make them again. */
const MOST_STEPS = 1_200_000;

export interface MachineKind {
  /** Expressions may begin at every unit, not only at the first. */
  readonly anywhere: boolean;
  /** Reads from the end of a text to its start. */
  readonly backwards: boolean;
}

/**
 * An automaton whose steps are worked out when a text first needs them, and kept (A. V. Aho and others, Compilers,
 * section 3.7: states as sets of places). One look a unit, whatever the expressions are: there is no way back to take.
 */
export class Machine {
  readonly width: number;
  /** State after a step, plus one; 0 where the step is not known yet. By state and letter. */
  steps: Int32Array;
  /** What ends before the letter of a step: number of a list, 0 for nothing. */
  found: Int32Array;
  /** Lists of expressions. */
  readonly lists: (readonly number[])[] = [[]];
  private readonly states: { readonly places: readonly number[]; readonly beside: number }[] = [];
  private readonly known = new Map<string, number>();
  private readonly listNumbers = new Map<string, number>();
  private readonly mark: Uint32Array;
  private round = 0;
  private readonly asks: boolean;
  private readonly word: Uint8Array;
  private readonly break: Uint8Array;

  constructor(
    private readonly automaton: Automaton,
    private readonly alphabet: Alphabet,
    private readonly kind: MachineKind,
  ) {
    this.width = alphabet.size;
    this.mark = new Uint32Array(automaton.places.length);
    this.asks = automaton.places.some((place) => place.does === ASK);
    this.word = alphabet.tableOf(WORD_RANGES);
    this.break = alphabet.tableOf(BREAK_RANGES);
    this.steps = new Int32Array(this.width * 8);
    this.found = new Int32Array(this.width * 8);
  }

  /** State before the first unit is read; `beside` is the letter that stands there already. */
  begin(beside: number): number {
    return this.stateOf(this.kind.anywhere ? [] : this.automaton.starts, beside);
  }

  /** Works out a step that is not known yet; the next state. `steps` and `found` may be other arrays afterwards. */
  work(state: number, letter: number): number {
    const from = this.states[state]!;
    const next = new Set<number>();
    const ended: number[] = [];
    this.round += 1;
    const waiting = [...from.places, ...(this.kind.anywhere ? this.automaton.starts : [])];
    while (waiting.length > 0) {
      const number = waiting.pop()!;
      if (this.mark[number] === this.round) continue;
      this.mark[number] = this.round;
      const place = this.automaton.places[number]!;
      if (place.does === READ) {
        if (this.alphabet.tableOf(place.of)[letter] === 1) next.add(place.next);
      } else if (place.does === FORK) waiting.push(...place.next);
      else if (place.does === FOUND) ended.push(place.expression);
      else if (this.holds(place.question, from.beside, letter)) waiting.push(place.next);
    }
    const list = this.listOf(ended);
    this.lastFound = list;
    if (this.states.length * this.width > MOST_STEPS) return this.forget(next, letter);
    const to = this.stateOf([...next], letter);
    this.steps[state * this.width + letter] = to + 1;
    this.found[state * this.width + letter] = list;
    return to;
  }

  /** What ended before the letter of the step that was worked out last. */
  lastFound = 0;

  /** Whether nothing can follow any more. */
  isDead(state: number): boolean {
    return !this.kind.anywhere && this.states[state]!.places.length === 0;
  }

  private forget(next: ReadonlySet<number>, letter: number): number {
    this.states.length = 0;
    this.known.clear();
    this.steps.fill(0);
    this.found.fill(0);
    return this.stateOf([...next], letter);
  }

  private holds(question: Question, beside: number, letter: number): boolean {
    const left = this.kind.backwards ? letter : beside;
    const right = this.kind.backwards ? beside : letter;
    const edge = this.alphabet.edge;
    if (question.kind === 'beside') {
      const table = this.alphabet.tableOf(question.of);
      return (table[question.side === 'left' ? left : right] === 1) === question.wanted;
    }
    switch (question.of) {
      case 'line-start':
        return left === edge || this.break[left] === 1;
      case 'line-end':
        return right === edge || this.break[right] === 1;
      case 'word':
        return this.word[left] !== this.word[right];
      case 'no-word':
        return this.word[left] === this.word[right];
    }
  }

  private stateOf(places: readonly number[], beside: number): number {
    const sorted = [...places].sort((left, right) => left - right);
    // What stands beside a state matters only to questions.
    const kept = this.asks ? beside : 0;
    const key = `${kept}:${sorted.join(' ')}`;
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const state = this.states.length;
    this.states.push({ places: sorted, beside: kept });
    this.known.set(key, state);
    if ((state + 1) * this.width > this.steps.length) this.grow();
    return state;
  }

  private grow(): void {
    const twice = (old: Int32Array): Int32Array => {
      const next = new Int32Array(old.length * 2);
      next.set(old);
      return next;
    };
    this.steps = twice(this.steps);
    this.found = twice(this.found);
  }

  private listOf(ended: readonly number[]): number {
    if (ended.length === 0) return 0;
    const sorted = [...ended].sort((left, right) => left - right);
    const key = sorted.join(' ');
    const known = this.listNumbers.get(key);
    if (known !== undefined) return known;
    this.lists.push(sorted);
    this.listNumbers.set(key, this.lists.length - 1);
    return this.lists.length - 1;
  }
}
