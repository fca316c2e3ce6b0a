import type { LedgerDeedView } from '@lantern/contracts';
import { count } from '../../wording/numbers';

export const STATE_WORDS: Readonly<Record<LedgerDeedView['state'], string>> = {
  waiting: 'waiting',
  'went-on': 'done',
  refused: 'refused',
  'taken-back': 'canceled',
};

/** What was done, in a line. */
export function deedWords({ deed, by, facts }: LedgerDeedView): string {
  const how = by === 'interface' ? ', by a program' : '';
  const rows =
    facts.rows === undefined ? '' : `, ${count(facts.rows)} ${facts.rows === 1 ? 'record' : 'records'}`;
  switch (deed) {
    case 'export':
      return `Export of "${facts.title}"${rows}${how}`;
    case 'read':
      return by === 'screen' ? `Record ${facts.title}` : `Records of ${facts.title}${rows}${how}`;
    case 'sign-in':
      return 'Sign-in';
    case 'connect':
      return `Application "${facts.title}"`;
  }
}
