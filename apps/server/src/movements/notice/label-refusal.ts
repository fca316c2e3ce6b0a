import { type Clause, type Effect } from '@lantern/core/labels';
import { assertNever } from '@lantern/core/shared';

type Language = 'en' | 'de';

const DOING: Readonly<Record<Language, Readonly<Record<Effect, string>>>> = {
  en: {
    read: 'read this',
    change: 'change this',
    'take-out': 'copy from this',
    'make-another': 'make a copy of this',
    'pass-on': 'pass this on',
  },
  de: {
    read: 'es zu lesen',
    change: 'es zu ändern',
    'take-out': 'daraus zu kopieren',
    'make-another': 'eine Kopie davon zu machen',
    'pass-on': 'es weiterzugeben',
  },
};

/** What a label refused: the label, the effect, the deciding clause, and the owner's address (empty if unknown). */
interface RefusedByLabel {
  readonly label: { readonly name: string };
  readonly effect: Effect;
  readonly clause: Clause;
  readonly owner: string;
}

/** Refusal text for a person: the label's name, the reason, and whom to ask. German for `de…`, English otherwise. */
export function labelRefusal({ label, effect, clause, owner }: RefusedByLabel, language: string): string {
  const german = language.toLowerCase().startsWith('de');
  const doing = DOING[german ? 'de' : 'en'][effect];
  const why = reason(clause, german);
  if (german) {
    const ask = owner ? `Fragen Sie ${owner}.` : 'Fragen Sie, wem es gehört.';
    const words = `Die Kennzeichnung „${label.name}“ erlaubt Ihnen nicht, ${doing}.`;
    return [words, why, ask].filter(Boolean).join(' ');
  }
  const ask = owner ? `Ask ${owner}, who owns it.` : 'Ask its owner.';
  return [`The label "${label.name}" does not let you ${doing}.`, why, ask].filter(Boolean).join(' ');
}

function reason({ code }: Clause, german: boolean): string {
  switch (code) {
    case 'over':
      return german ? 'Ihre Erlaubnis ist abgelaufen.' : 'Your permission has ended.';
    case 'outside':
      return german ? 'Das dürfen nur Leute im Haus.' : 'Only people in the organisation may.';
    case 'not-granted':
      return german ? 'Sie gehören nicht zu denen, die es dürfen.' : 'You are not one of the people who may.';
    case 'not-named-by-setter':
      return german ? 'Sie wurden dafür nicht genannt.' : 'The person who set the label did not name you.';
    case 'cannot-read':
      return german ? 'Sie dürfen es nicht lesen.' : 'You may not read it.';
    case 'place-copies':
      return german
        ? 'Von diesem Ort dürfen keine Kopien genommen werden.'
        : 'Nobody may take copies out of this place.';
    case 'place-machine':
      return german
        ? 'Ihr Gerät wird nicht vom Haus betreut.'
        : 'The organisation does not manage the machine you use.';
    case 'place-network':
      return german
        ? 'Sie sind in einem Netz, dem das Haus nicht traut.'
        : 'You are on a network that the organisation does not trust.';
    case 'place-outside':
      return german
        ? 'Dieser Ort öffnet sich nicht nach außen.'
        : 'This place does not open to people outside.';
    case 'place-link':
      return german
        ? 'Dieser Ort öffnet sich nach außen nur für genannte Personen.'
        : 'Outside, this place opens for named people only, not by a link.';
    case 'place-sign-in':
      return german ? 'Melden Sie sich erst an.' : 'Sign in before you open it.';
    case 'owner':
    case 'no-label':
    case 'anyone':
    case 'inside':
    case 'named-by-setter':
    case 'granted':
      return '';
    default:
      return assertNever(code);
  }
}
