import type { PreventingChange } from '@lantern/core/insight';
import { changeSentence } from './prevention';
import type { HistoryEntry, IncidentRow } from '@lantern/contracts';
import type { DeskAct } from '@lantern/core/incidents';
import { CAUSE_WORDS, SEVERITY_WORDS } from './terms';
import type { Names } from './sentence';

/** Headline of an incident: what was found most, and where it went. Never content. */
export function incidentTitle(
  row: Pick<IncidentRow, 'counts' | 'unreadableParts' | 'destinations'> &
    Partial<Pick<IncidentRow, 'origin' | 'title'>>,
  names: Names,
): string {
  const first = row.counts[0];
  const where = row.destinations[0] ? ` to ${row.destinations[0]}` : '';
  // What another system reports has its words where none of our patterns found anything.
  if (!first && row.origin) return row.title ?? 'Reported without a title';
  if (!first) return row.unreadableParts > 0 ? `Unreadable content${where}` : `Rule matched${where}`;
  const more = row.counts.length > 1 ? ` and ${row.counts.length - 1} more` : '';
  return `${shortName(names.get(first.pattern) ?? 'A pattern that was removed')}${more}${where}`;
}

/** A pattern's name without the part in brackets. */
export function shortName(name: string): string {
  return name.replace(/\s*\([^)]*\)$/, '');
}

export function actWords(act: DeskAct): string {
  switch (act.act) {
    case 'answer-looked-for':
      return act.yes ? 'It is what we look for' : 'It is not what we look for';
    case 'answer-all-right':
      return act.yes ? 'It was all right' : 'It was not all right';
    case 'name-cause':
      return `Cause: ${CAUSE_WORDS[act.cause].toLowerCase()}`;
    case 'take':
      return 'Taken';
    case 'wait':
      return 'Waiting for the person';
    case 'reopen':
      return 'Reopened';
    case 'assign':
      return act.to === null ? 'Assigned to nobody' : `Handed to ${act.to}`;
    case 'set-severity':
      return `Severity set to ${SEVERITY_WORDS[act.severity].toLowerCase()}`;
    case 'mark-test':
      return act.yes ? 'Marked as our own test' : 'No longer marked as our own test';
  }
}

export function historyWords(entry: HistoryEntry): string {
  switch (entry.kind) {
    case 'recorded':
      return 'Recorded';
    case 'note':
      return `Note: ${entry.text ?? ''}`;
    case 'unmasked':
      // Originals and pictures say themselves what was shown.
      return /^(?:Original downloaded|Pictures shown): /u.test(entry.text ?? '')
        ? (entry.text ?? '').replace(': ', '. Reason: ')
        : `Values shown. Reason: ${entry.text ?? ''}`;
    case 'reply':
    case 'override':
      return entry.text ?? '';
    case 'reported':
      return `Reported as a false finding: ${entry.text ?? ''}`;
    case 'act': {
      const words = entry.act ? actWords(entry.act) : 'Put back to what it was before';
      const together = entry.bulk ? ', together with others' : '';
      return `${words}${together}${entry.text ? `: ${entry.text}` : ''}`;
    }
    case 'case':
      return caseWords(entry.text);
    case 'question':
    case 'response':
    case 'routed':
      return entry.text ?? '';
    case 'prevented':
      return `Draft changed so that it does not come again. ${preventedWords(entry.text)}`;
  }
}

/** The change that was made because of an incident. */
function preventedWords(text: string | null): string {
  return text ? changeSentence(JSON.parse(text) as PreventingChange, () => 'the pattern') : '';
}

/** Why an incident joined a case, or that it left. */
function caseWords(text: string | null): string {
  if (!text) return 'Taken out of its case';
  const {
    like,
    shared,
    text: likeness,
  } = JSON.parse(text) as { like: number; shared: number; text: number | null };
  const same = [
    ...(shared > 0 ? [`${shared} of the same values`] : []),
    ...(likeness !== null && likeness >= 0.5
      ? [`a text that is ${Math.round(likeness * 100)} % the same`]
      : []),
  ];
  return `Joined the case of incident ${like}: ${same.join(' and ')}`;
}
