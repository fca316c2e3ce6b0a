import type { JournalFigures } from '@lantern/contracts';
import type { SpecimenFigures, SpecimenOutcome } from '@lantern/core/detection';

/** Values named in one sentence; more are counted. */
const NAMED = 4;

function named(values: readonly string[]): string {
  const shown = values
    .slice(0, NAMED)
    .map((value) => `"${value.length > 40 ? `${value.slice(0, 40)}…` : value}"`);
  return values.length > NAMED ? `${shown.join(', ')} and ${values.length - NAMED} more` : shown.join(', ');
}

/** How a specimen came out, in a sentence; `wanted` is how many values it asks for. */
export function outcomeWords(outcome: SpecimenOutcome, wanted: number): string {
  const parts: string[] = [];
  if (outcome.missed.length > 0) parts.push(`Missed: ${named(outcome.missed)}.`);
  if (outcome.extra.length > 0) parts.push(`Found and should not be: ${named(outcome.extra)}.`);
  if (parts.length > 0) return parts.join(' ');
  return wanted === 0
    ? 'Nothing is found, as it should be.'
    : `Finds ${wanted === 1 ? 'its value' : `all ${wanted} values`}.`;
}

const percent = (share: number | null): string => (share === null ? 'none' : `${Math.round(share * 100)} %`);

/** Figures over all specimens, with what they were before the change. */
export function figureWords(now: SpecimenFigures, before: SpecimenFigures | null, changed: number): string {
  const part = (name: string, value: number | null, was: number | null | undefined): string =>
    was !== undefined && was !== value
      ? `${name} ${percent(value)} (was ${percent(was)})`
      : `${name} ${percent(value)}`;
  return [
    `${now.kept} of ${now.specimens} kept`,
    part('precision', now.precision, before?.precision),
    part('recall', now.recall, before?.recall),
    ...(changed > 0 ? [`${changed} ${changed === 1 ? 'specimen changes' : 'specimens change'}`] : []),
  ].join(' · ');
}

/** Precision and recall over decided incidents, if there are any. */
function decidedWords({ right, wrong }: Pick<JournalFigures, 'right' | 'wrong'>): string {
  if (right.total + wrong.total === 0) return ' No incidents decided yet.';
  const side = (what: string, { total, before, now }: JournalFigures['right']): string =>
    total === 0 ? '' : ` Of ${total} ${what}: ${now} found${now === before ? '' : ` (was ${before})`}.`;
  const share = (part: number, whole: number): string =>
    whole === 0 ? 'none' : `${Math.round((part / whole) * 100)} %`;
  const precision = share(right.now, right.now + wrong.now);
  const recall = share(right.now, right.total);
  return `${side('that were right', right)}${side('false positives', wrong)} Precision ${precision}, recall ${recall}.`;
}

/** A pattern over the journal in sentences. */
export function journalWords(figures: JournalFigures): string {
  const { looked, withoutContent, before, now, newly, gone } = figures;
  if (looked === 0) return 'The journal contains no texts yet.';
  const changes = newly + gone === 0 ? '' : ` (was ${before}: ${newly} new, ${gone} gone)`;
  const rest = withoutContent === 0 ? '' : ` ${withoutContent} were kept without text and cannot be checked.`;
  return `Newest ${looked} movements: found in ${now}${changes}.${rest}${decidedWords(figures)}`;
}
