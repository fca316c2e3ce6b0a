import { count } from './numbers';
import type { FigureCode, ReportView, WhyView } from '@lantern/contracts/insight';
import type { Grain, RuleRemark, Spike, Trend } from '@lantern/core/insight';
import { assertNever } from '@lantern/core/shared';
import { format } from 'date-fns';

/** What each figure counts. */
export const FIGURE_WORDS: Readonly<Record<FigureCode, string>> = {
  incidents: 'Incidents',
  matches: 'Matches',
  movements: 'Movements',
  overrides: 'Overrides requested',
  replies: 'Replies',
  'false-positives': 'False positives',
  harm: 'Harm',
};

export { count };
/** A number with one decimal where it is small. */
export const rounded = (value: number): string =>
  (value < 10 ? Math.round(value * 10) / 10 : Math.round(value)).toLocaleString('en-GB');
export const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** A share with the bounds that it surely lies between. */
export const shareWords = ({
  hits,
  of,
  least,
  most,
}: {
  readonly hits: number;
  readonly of: number;
  readonly least: number;
  readonly most: number;
}): string => `${count(hits)} of ${count(of)} (${percent(least)} to ${percent(most)} with 95 % confidence)`;

/** How much more or less than before. */
export function changeWords(now: number, before: number): string {
  if (before === 0) return 'none before';
  if (now === before) return 'as before';
  const change = Math.round(((now - before) / before) * 100);
  return `${change > 0 ? '+' : '−'}${Math.abs(change)} % (before: ${count(before)})`;
}

/** The name of a stretch of time. */
export function bucketWords(from: string, to: string, grain: Grain): string {
  const at = new Date(from);
  switch (grain) {
    case 'hour':
      return format(at, 'EEE d MMM, HH:mm');
    case 'day':
      return format(at, 'EEE d MMM');
    case 'week':
      return `${format(at, 'd MMM')} to ${format(new Date(new Date(to).getTime() - 1), 'd MMM yyyy')}`;
    case 'month':
      return format(at, 'MMMM yyyy');
    default:
      return assertNever(grain);
  }
}

/** A stretch that stands out, beside its usual count. */
export function spikeWords(spike: Spike, name: string): string {
  const range = `${count(spike.least)} to ${count(spike.most)}`;
  return spike.direction === 'more'
    ? `${name}: ${count(spike.count)}, usually ${range}.`
    : `${name}: only ${count(spike.count)}, usually ${range}.`;
}

export function trendWords({ slope }: Trend): string {
  const change = rounded(Math.abs(slope));
  return slope > 0
    ? `Rising: each weekday has about ${change} more than a week earlier.`
    : `Falling: each weekday has about ${change} less than a week earlier.`;
}

/** What one value has to do with a difference. */
export function partOfWords({ count: found, usual, share }: WhyView['parts'][number]): string {
  return `${count(found)}, usually ${rounded(usual)}: ${percent(Math.min(1, share))} of the difference`;
}

/** Why a rule stands out. */
export function ruleRemarkWords(remark: RuleRemark): string {
  switch (remark.code) {
    case 'mostly-false':
      return `Mostly false positives: ${shareWords(remark)}.`;
    case 'against-work':
      return `Stops what approvers then let go: ${shareWords(remark)}.`;
    case 'advice-repeated':
      return `People do it again within a week of the advice: ${shareWords(remark)}.`;
    case 'never-fired':
      return 'No match in this period.';
    case 'only-tests':
      return `Only our own tests matched it: ${count(remark.tests)}.`;
    case 'only-reduced':
      return `A ceiling reduced the answer of all ${count(remark.matches)} matches.`;
    case 'approval-wrong':
      return `${count(remark.hits)} of ${count(remark.of)} approvals were judged wrong later.`;
    case 'stops-harm':
      return `Stopped or questioned ${count(remark.harm)} harmful ${remark.harm === 1 ? 'movement' : 'movements'}.`;
    default:
      return assertNever(remark);
  }
}

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;

/** Minutes as people say them. */
export function durationWords(minutes: number): string {
  if (minutes < 90) return `${Math.round(minutes)} min`;
  if (minutes < 48 * 60) return `${rounded(minutes / 60)} h`;
  return `${rounded(minutes / 1440)} days`;
}

/** How few make up half. */
export function fewWords({ half, of }: { readonly half: number; readonly of: number }): string {
  if (of === 0) return '';
  if (of === 1) return 'one makes up all of it';
  return `${count(half)} of ${count(of)} make up half`;
}

/** What a report shows. */
export const VIEW_WORDS: Readonly<Record<ReportView, string>> = {
  changes: 'What changed',
  rules: 'What rules cost',
  most: 'Who and where',
  incidents: 'Incidents one by one',
};
