import { ExpressionError, type Piece } from './read.js';
import type { Ranges } from './ranges.js';

/** What a place of an automaton does. */
export const READ = 0;
export const FORK = 1;
export const ASK = 2;
export const FOUND = 3;

/** What must hold between two units. */
export type Question = Extract<Piece, { kind: 'edge' | 'beside' }>;

/** A place: reads one unit, goes on in several ways, asks about the units on either side, or says what was found. */
export type Place =
  | { readonly does: typeof READ; readonly of: Ranges; readonly next: number }
  | { readonly does: typeof FORK; next: number[] }
  | { readonly does: typeof ASK; readonly question: Question; readonly next: number }
  | { readonly does: typeof FOUND; readonly expression: number };

/** Most places of one expression: repetitions are written out, and each place may be looked at for each character. */
export const MAX_PLACES = 3_000;

/** Expressions as one automaton without a way back (K. Thompson, Regular Expression Search Algorithm, 1968). */
export interface Automaton {
  readonly places: readonly Place[];
  /** Where each expression begins. */
  readonly starts: readonly number[];
}

/** Builds the automaton; `backwards` for reading from the end of a value to its start. Throws where it grows too large. */
export function buildAutomaton(pieces: readonly Piece[], backwards: boolean): Automaton {
  const places: Place[] = [];
  const starts = pieces.map((piece, expression) => {
    const first = places.length;
    const add = (place: Place): number => {
      if (places.length - first > MAX_PLACES) throw new ExpressionError('too-large', 0);
      places.push(place);
      return places.length - 1;
    };
    return build(piece, add({ does: FOUND, expression }), { add, backwards });
  });
  return { places, starts };
}

interface Building {
  readonly add: (place: Place) => number;
  readonly backwards: boolean;
}

/** Adds a piece that goes on at `next`; the place where it begins. */
function build(piece: Piece, next: number, building: Building): number {
  const { add, backwards } = building;
  switch (piece.kind) {
    case 'unit':
      return add({ does: READ, of: piece.of, next });
    case 'row': {
      const items = backwards ? piece.items : [...piece.items].reverse();
      return items.reduce((after, item) => build(item, after, building), next);
    }
    case 'choice':
      return add({ does: FORK, next: piece.items.map((item) => build(item, next, building)) });
    case 'repeat':
      return repeat(piece, next, building);
    default:
      return add({ does: ASK, question: piece, next });
  }
}

function repeat(piece: Extract<Piece, { kind: 'repeat' }>, next: number, building: Building): number {
  const { item, least, most } = piece;
  let at = next;
  if (most === Number.POSITIVE_INFINITY) {
    const loop: Place = { does: FORK, next: [] };
    at = building.add(loop);
    loop.next = [build(item, at, building), next];
  } else {
    for (let count = least; count < most; count += 1)
      at = building.add({ does: FORK, next: [build(item, at, building), next] });
  }
  for (let count = 0; count < least; count += 1) at = build(item, at, building);
  return at;
}
