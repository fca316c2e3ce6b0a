import { CUT_FIELDS, type CutField } from '@lantern/contracts/insight';
import { LISTED, type Listed } from '@lantern/core/incidents';
import { addDays, addWeeks, format, isValid, parse, startOfDay, startOfWeek } from 'date-fns';

/** Periods that are asked for most, by what people want to know; each ends now. */
export const SPANS = ['yesterday', 'week', 'four-weeks', 'quarter'] as const;
export type Span = (typeof SPANS)[number];

/** What Insight shows, as the address bar holds it: a link shows the same to somebody else. */
export interface InsightState {
  /** A period that ends now, or days of the calendar, the last one included. */
  readonly period:
    | { readonly kind: 'span'; readonly span: Span }
    | { readonly kind: 'days'; readonly from: string; readonly to: string }
    | { readonly kind: 'instants'; readonly from: string; readonly to: string };
  readonly listed: Listed;
  readonly by: CutField | null;
  readonly filter: string;
}

const USUAL_SPAN: Span = 'four-weeks';
const DAY = /^\d{4}-\d{2}-\d{2}$/u;

export function readInsight(search: URLSearchParams): InsightState {
  const from = search.get('from') ?? '';
  const to = search.get('to') ?? '';
  const span = SPANS.find((known) => known === search.get('span')) ?? USUAL_SPAN;
  const period =
    isDay(from) && isDay(to)
      ? ({ kind: 'days', from, to } as const)
      : isInstant(from) && isInstant(to)
        ? ({ kind: 'instants', from, to } as const)
        : ({ kind: 'span', span } as const);
  return {
    period,
    listed: LISTED.find((known) => known === search.get('list')) ?? 'incidents',
    by: CUT_FIELDS.find((known) => known === search.get('by')) ?? null,
    filter: search.get('filter') ?? '',
  };
}

export function writeInsight({ period, listed, by, filter }: InsightState): string {
  const search = new URLSearchParams();
  if (period.kind !== 'span') {
    search.set('from', period.from);
    search.set('to', period.to);
  } else if (period.span !== USUAL_SPAN) search.set('span', period.span);
  if (listed !== 'incidents') search.set('list', listed);
  if (by) search.set('by', by);
  if (filter) search.set('filter', filter);
  return search.toString();
}

/**
 * First instant of a period and the first after it, in the browser's zone. `now` is taken to the minute, so that a screen
 * that is drawn again asks the same.
 */
export function instantsOf(
  period: InsightState['period'],
  now: Date,
): { readonly from: Date; readonly to: Date } {
  const to = new Date(Math.ceil(now.getTime() / 60_000) * 60_000);
  if (period.kind === 'instants') return { from: new Date(period.from), to: new Date(period.to) };
  if (period.kind === 'days') return { from: dayOf(period.from), to: addDays(dayOf(period.to), 1) };
  switch (period.span) {
    case 'yesterday':
      return { from: addDays(startOfDay(now), -1), to };
    case 'week':
      return { from: startOfWeek(now, { weekStartsOn: 1 }), to };
    case 'four-weeks':
      return { from: addWeeks(startOfWeek(now, { weekStartsOn: 1 }), -4), to };
    case 'quarter':
      return { from: addWeeks(startOfWeek(now, { weekStartsOn: 1 }), -12), to };
  }
}

/** A stretch of a chart as a period: whole days as days, anything else by its instants. */
export function periodBetween(from: Date, to: Date): InsightState['period'] {
  const whole = startOfDay(from).getTime() === from.getTime() && startOfDay(to).getTime() === to.getTime();
  return whole
    ? { kind: 'days', from: format(from, 'yyyy-MM-dd'), to: format(addDays(to, -1), 'yyyy-MM-dd') }
    : { kind: 'instants', from: from.toISOString(), to: to.toISOString() };
}

const dayOf = (text: string): Date => parse(text, 'yyyy-MM-dd', new Date(0));
const isDay = (text: string): boolean => DAY.test(text) && isValid(dayOf(text));
const isInstant = (text: string): boolean => text.includes('T') && !Number.isNaN(Date.parse(text));
