import { toSearchText } from '../../text/search-text.js';
import { buildAutomaton } from './automaton.js';
import { canBeEmpty, ExpressionError, type ExpressionProblem, readExpression } from './read.js';
import { ExpressionSearch } from './search.js';

/** What is wrong with an expression, for a sentence beside the editor. */
export interface ExpressionFault {
  readonly problem: ExpressionProblem;
  /** Where it is, in characters of the expression. */
  readonly at: number;
  readonly about: string;
}

/**
 * Ordinary text in several languages with ordinary numbers in it; made up. An expression that holds in most of it holds
 * in most of everything.
 */
const ORDINARY = [
  'Dear Maren, thank you for the papers of last week. We will be on the quay at 7:30 and leave at 8, as agreed on 12 May 2026.',
  'The second invoice (no. 4417) is still open; please have a look at lines 3 to 9 and tell me which of the 24 positions are yours.',
  'Liebe Frau Brandt, die Lieferung vom 03.06. ist vollständig, nur zwei Paletten fehlen noch. Rückfragen bitte unter 0451 221.',
  'Nous avons bien reçu votre message du 14 mars et nous vous répondrons avant la fin du mois, au plus tard le 30.',
  'Los documentos están en la carpeta compartida; la versión 2.1 sustituye a la anterior y pesa 3,4 MB.',
  'https://www.example.org/reports/2026/summary.html?page=2 | ines@example.org | Room B-12 | 17 % | EUR 1,250.00',
] as const;
/** Share of ordinary text that an expression may cover, and places per thousand characters, before it is refused. */
const MOST_COVERED = 0.25;
const MOST_PLACES_PER_THOUSAND = 40;

/** What keeps an expression from being used; nothing where it is fine. */
export function faultOf(source: string, caseMatters: boolean): ExpressionFault | null {
  try {
    const piece = readExpression(source, caseMatters);
    buildAutomaton([piece], false);
    if (canBeEmpty(piece)) return { problem: 'finds-nothing', at: 0, about: '' };
    const search = new ExpressionSearch([piece]);
    const text = ORDINARY.join('\n');
    const matches = search.find(toSearchText(text).units);
    const covered = matches.reduce((sum, { start, end }) => sum + end - start, 0);
    const most = (text.length * MOST_PLACES_PER_THOUSAND) / 1000;
    if (covered > text.length * MOST_COVERED || matches.length > most)
      return { problem: 'finds-everything', at: 0, about: String(matches.length) };
    return null;
  } catch (error) {
    if (error instanceof ExpressionError) return { problem: error.problem, at: error.at, about: error.about };
    throw error;
  }
}
