import { Blocks } from './blocks.js';
import { Codes } from './codes.js';
import { grown } from './column.js';
import {
  INCIDENT_COLUMNS,
  type IncidentFacts,
  MATCH_COLUMNS,
  MOVEMENT_COLUMNS,
  type MovementFacts,
  Rows,
  TRAIT_COLUMNS,
  type TraitColumn,
} from './facts.js';
import { RowIndex } from './row-index.js';
import { Spans } from './spans.js';
import { Stamps } from './stamps.js';

/** Numbers that each match takes: policy, rule, and the four choices in one. */
const MATCH_WIDTH = 3;
/** What is kept beyond the need of the moment, so that a few more rows need no new array. */
const SPARE = 4_096;
/** A trait's field and whether only silent rules say so, and its value. */
const TRAIT_WIDTH = 2;

/**
 * Movements, incidents and their matches in columns of numbers, so that millions are counted under any filter in milliseconds.
 * Rows are in no order; a row that goes gives its place to the last one.
 */
export class DeskColumns {
  readonly movements = new Rows(MOVEMENT_COLUMNS);
  readonly movementSpans = new Spans();
  readonly movementStamps = new Stamps();
  readonly incidents = new Rows(INCIDENT_COLUMNS);
  readonly incidentSpans = new Spans();
  readonly incidentStamps = new Stamps();
  /** Codes of each match's own values; the matches themselves stand in `matches`. */
  readonly matchValues = new Rows(MATCH_COLUMNS);
  readonly matches = new Blocks(MATCH_WIDTH);
  readonly traitCodes: Readonly<Record<TraitColumn, Codes>> = Object.fromEntries(
    TRAIT_COLUMNS.map((field) => [field, new Codes()]),
  ) as Record<TraitColumn, Codes>;
  readonly traits = new Blocks(TRAIT_WIDTH);
  /** What people said about each incident, a bit for each of {@link SAID}: figures of rules ask for it again and again. */
  said = new Uint8Array(0);
  private readonly movementRows = new RowIndex();
  private readonly rooms = new Map<string, Uint32Array>();
  /** Number of the incident of each movement; 0 for none. */
  private incidentOf = new Uint32Array(0);
  /** One more than the row of the incident with a number. */
  private incidentRows = new Uint32Array(0);
  /** One more than the row of the movement of an incident. */
  private movementOf = new Uint32Array(0);

  /** The row of the incident of a movement; -1 for none. */
  incidentRowOf(movementRow: number): number {
    const number = this.incidentOf[movementRow] ?? 0;
    return number === 0 ? -1 : (this.incidentRows[number] ?? 0) - 1;
  }

  putMovement({ id, incident, values }: MovementFacts): void {
    const found = this.movementRows.find(id);
    const row = found < 0 ? this.movements.length : found;
    if (found < 0) this.movementRows.set(id, row);
    const before = this.incidentOf[row] ?? 0;
    if (found >= 0 && before !== 0 && before !== incident) this.removeIncident(before);
    this.movements.set(row, values);
    this.movementSpans.note(row, Number(values.time));
    this.incidentOf = grown(this.incidentOf, row + 1);
    this.incidentOf[row] = incident ?? 0;
    this.noteMovement(row);
  }

  removeMovement(id: string): void {
    const row = this.movementRows.find(id);
    if (row < 0) return;
    this.removeIncident(this.incidentOf[row] ?? 0);
    this.movementRows.forget(row);
    const last = this.movements.length - 1;
    if (row < last) {
      this.movementRows.moved(last, row);
      this.movements.copy(last, row);
      this.movementSpans.note(row, this.movements.column('time').data[row] ?? 0);
      this.incidentOf[row] = this.incidentOf[last] ?? 0;
      this.noteMovement(row);
    }
    this.incidentOf[last] = 0;
    this.movements.length = last;
    this.movementStamps.note(last);
  }

  putIncident({ number, values, traits, matches }: IncidentFacts): void {
    this.incidentRows = grown(this.incidentRows, number + 1);
    const known = this.incidentRows[number] ?? 0;
    const row = known === 0 ? this.incidents.length : known - 1;
    this.incidentRows[number] = row + 1;
    this.incidents.set(row, { ...values, number });
    this.incidentSpans.note(row, Number(values.time));
    this.said = grown(this.said, row + 1);
    this.said[row] = traits.reduce((bits, { field, value }) => bits | saidBit(field, value), 0);
    this.traits.set(row, this.traitsInOrder(traits));
    this.matches.set(
      row,
      matches.flatMap((match) => {
        this.matchValues.set(0, match);
        const code = (name: keyof typeof MATCH_COLUMNS) => this.matchValues.column(name).data[0] ?? 0;
        return [code('policy'), code('rule'), packed(code)];
      }),
    );
    this.noteIncident(row, number);
  }

  /** An array to work in; one of the same name that was given earlier is overwritten. */
  room(name: string, length: number): Uint32Array {
    const known = this.rooms.get(name) ?? new Uint32Array(0);
    const enough = known.length >= length ? known : new Uint32Array(length + SPARE);
    this.rooms.set(name, enough);
    return enough;
  }

  /** Makes room again after many changes. */
  tidy(): void {
    this.traits.pack(this.incidents.length);
    this.matches.pack(this.incidents.length);
  }

  /** Fields and values, those of one field side by side: whoever looks for a field stops behind it. */
  private traitsInOrder(traits: IncidentFacts['traits']): number[] {
    const entries = traits.flatMap(({ field, value, silent }) => {
      const at = TRAIT_COLUMNS.indexOf(field as TraitColumn);
      const name = TRAIT_COLUMNS[at];
      return name ? [[at * 2 + Number(silent), this.traitCodes[name].codeOf(value)] as const] : [];
    });
    return entries.sort(([one], [other]) => one - other).flat();
  }

  private removeIncident(number: number): void {
    const known = this.incidentRows[number] ?? 0;
    if (known === 0) return;
    const row = known - 1;
    const last = this.incidents.length - 1;
    this.incidentRows[number] = 0;
    for (const blocks of [this.traits, this.matches])
      if (row < last) blocks.move(last, row);
      else blocks.forget(row);
    if (row < last) {
      this.incidents.copy(last, row);
      this.said[row] = this.said[last] ?? 0;
      this.incidentSpans.note(row, this.incidents.column('time').data[row] ?? 0);
      this.incidentRows[this.incidents.column('number').data[row] ?? 0] = row + 1;
    }
    this.incidents.length = last;
    this.noteIncident(last, number);
    if (row < last) this.incidentStamps.note(row);
  }

  /** A movement stands at a row, or says something else there. */
  private noteMovement(row: number): void {
    this.movementStamps.note(row);
    const number = this.incidentOf[row] ?? 0;
    if (number === 0) return;
    this.movementOf = grown(this.movementOf, number + 1);
    this.movementOf[number] = row + 1;
  }

  /** What an incident says, its movement says too. */
  private noteIncident(row: number, number: number): void {
    this.incidentStamps.note(row);
    const movement = this.movementOf[number] ?? 0;
    if (movement > 0) this.movementStamps.note(movement - 1);
  }
}

/** Replies and overrides that figures of rules count, in the order of their bits. */
export const SAID = [
  ['reply', 'work', 'forWork'],
  ['reply', 'mistake', 'turnedBack'],
  ['reply', 'no-reply', 'noReply'],
  ['override', 'requested', 'overridesAsked'],
  ['override', 'approved', 'approved'],
  ['override', 'judged-wrong', 'judgedWrong'],
] as const;

function saidBit(field: string, value: string): number {
  const at = SAID.findIndex(([of, what]) => of === field && what === value);
  return at < 0 ? 0 : 1 << at;
}

/** Places of the choices of a match within one number, in bits. */
export const MATCH_SHIFTS = { answer: 0, severity: 8, silent: 16, reducedBy: 24 } as const;

function packed(code: (name: keyof typeof MATCH_SHIFTS) => number): number {
  return (
    (code('answer') |
      (code('severity') << MATCH_SHIFTS.severity) |
      (code('silent') << MATCH_SHIFTS.silent) |
      (code('reducedBy') << MATCH_SHIFTS.reducedBy)) >>>
    0
  );
}
