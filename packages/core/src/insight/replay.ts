import type { Outcome } from '../incidents/decision.js';
import { type Answer, strength } from '../policy/model/answers.js';
import type { Judgement } from '../policy/evaluate/verdict.js';
import type { Channel } from '../movement/movement.js';

/** How the answer to one movement changes. Stopped means asked, held or blocked: the person cannot simply go on. */
export type Shift = 'newly-stopped' | 'newly-let-through' | 'otherwise-answered' | 'same';
export const SHIFTS = ['newly-stopped', 'newly-let-through', 'otherwise-answered', 'same'] as const;

/** One movement judged twice: by what is published, and by the draft. */
export interface Rejudged {
  /** Names the movement for whoever lists it. */
  readonly id: string;
  readonly channel: Channel;
  readonly department: string;
  readonly person: string;
  /** Day of the movement (ISO 8601). */
  readonly day: string;
  /** What an analyst decided about its incident; null where nobody did. */
  readonly outcome: Outcome | null;
  readonly before: Decided;
  readonly after: Decided;
}

/** What one side decides, without the way to it: the answer and the rule that gives it. */
export interface Decided {
  readonly answer: Answer | null;
  readonly rule: string | null;
}

export function decidedOf({ answer, decidedBy }: Judgement): Decided {
  return { answer, rule: decidedBy?.rule ?? null };
}

/** One movement that is answered otherwise, for the list. */
export interface ShiftedItem {
  readonly id: string;
  readonly shift: Exclude<Shift, 'same'>;
  readonly before: Answer | null;
  readonly after: Answer | null;
  /** Rule that decides: by the draft where one does, else by what is published. */
  readonly rule: string | null;
}

export type ShiftCounts = Readonly<Record<Shift, number>>;

/** The difference that a draft makes over many movements. */
export interface ReplayDifference {
  readonly judged: number;
  readonly shifts: ShiftCounts;
  readonly byChannel: Readonly<Record<string, ShiftCounts>>;
  readonly byDepartment: Readonly<Record<string, ShiftCounts>>;
  readonly byRule: Readonly<Record<string, ShiftCounts>>;
  /** Distinct people a day who are spoken to (advised, asked, held or blocked), over the days with movements. */
  readonly interrupted: { readonly before: number; readonly after: number; readonly days: number };
  /** Incidents decided to be false positives that the draft no longer makes, and that it still makes. */
  readonly falsePositives: { readonly gone: number; readonly kept: number };
  /** Incidents decided to be harm that the draft would miss, and that it still names. */
  readonly harm: { readonly missed: number; readonly named: number };
  /** The first {@link MAX_SHIFTED_ITEMS} that are answered otherwise, in the order they were judged. */
  readonly items: readonly ShiftedItem[];
  readonly itemsLeftOut: number;
}

/** Items listed at most; the counts are of all. More than a person reads, and small enough for one answer. */
export const MAX_SHIFTED_ITEMS = 2_000;

const NONE: ShiftCounts = { 'newly-stopped': 0, 'newly-let-through': 0, 'otherwise-answered': 0, same: 0 };

const isStopped = (answer: Answer | null): boolean => answer !== null && strength(answer) >= strength('ask');
const isSpokenTo = (answer: Answer | null): boolean =>
  answer !== null && strength(answer) >= strength('advise');

/** What a draft changes about the answer to one movement. */
export function shiftOf(before: Answer | null, after: Answer | null): Shift {
  if (isStopped(after) && !isStopped(before)) return 'newly-stopped';
  if (isStopped(before) && !isStopped(after)) return 'newly-let-through';
  return before === after ? 'same' : 'otherwise-answered';
}

/** Adds up movements that were judged twice, one after the other. */
export class ReplayTally {
  private judged = 0;
  private readonly shifts = { ...NONE };
  private readonly channels = new Map<string, Record<Shift, number>>();
  private readonly departments = new Map<string, Record<Shift, number>>();
  private readonly rules = new Map<string, Record<Shift, number>>();
  private readonly days = new Map<string, { before: Set<string>; after: Set<string> }>();
  private readonly falsePositives = { gone: 0, kept: 0 };
  private readonly harm = { missed: 0, named: 0 };
  private readonly items: ShiftedItem[] = [];
  private itemsLeftOut = 0;

  add(movement: Rejudged): void {
    const { before, after } = movement;
    const shift = shiftOf(before.answer, after.answer);
    this.judged += 1;
    this.shifts[shift] += 1;
    countIn(this.channels, movement.channel, shift);
    countIn(this.departments, movement.department, shift);
    const rule = after.rule ?? before.rule;
    if (rule !== null) countIn(this.rules, rule, shift);
    this.countPeople(movement);
    if (movement.outcome === 'false-positive')
      this.falsePositives[after.answer === null ? 'gone' : 'kept'] += 1;
    if (movement.outcome === 'harm') this.harm[after.answer === null ? 'missed' : 'named'] += 1;
    if (shift === 'same') return;
    if (this.items.length >= MAX_SHIFTED_ITEMS) this.itemsLeftOut += 1;
    else this.items.push({ id: movement.id, shift, before: before.answer, after: after.answer, rule });
  }

  difference(): ReplayDifference {
    return {
      judged: this.judged,
      shifts: { ...this.shifts },
      byChannel: Object.fromEntries(this.channels),
      byDepartment: Object.fromEntries(this.departments),
      byRule: Object.fromEntries(this.rules),
      interrupted: this.interrupted(),
      falsePositives: { ...this.falsePositives },
      harm: { ...this.harm },
      items: [...this.items],
      itemsLeftOut: this.itemsLeftOut,
    };
  }

  private countPeople({ day, person, before, after }: Rejudged): void {
    const known = this.days.get(day) ?? { before: new Set<string>(), after: new Set<string>() };
    if (isSpokenTo(before.answer)) known.before.add(person);
    if (isSpokenTo(after.answer)) known.after.add(person);
    this.days.set(day, known);
  }

  private interrupted(): ReplayDifference['interrupted'] {
    const days = this.days.size;
    const sum = (side: 'before' | 'after'): number =>
      [...this.days.values()].reduce((total, day) => total + day[side].size, 0);
    const mean = (total: number): number => (days === 0 ? 0 : total / days);
    return { before: mean(sum('before')), after: mean(sum('after')), days };
  }
}

function countIn(groups: Map<string, Record<Shift, number>>, key: string, shift: Shift): void {
  const counts = groups.get(key) ?? { ...NONE };
  counts[shift] += 1;
  groups.set(key, counts);
}
