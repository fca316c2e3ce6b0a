import type { ResponseKind, ResponseTemplate } from '@lantern/contracts';

/** What the fields of a text are filled with. Never a value that was found. */
export interface TextFields {
  readonly person: string;
  readonly number: string;
  readonly time: string;
  readonly title: string;
  readonly found: string;
  readonly destination: string;
}

const FIELD = /\{(person|number|time|title|found|destination)\}/gu;

/** Puts the facts of an incident into a text; braces around anything else stay as they are. */
export function filled(text: string, fields: TextFields): string {
  return text.replaceAll(FIELD, (_all, name: keyof TextFields) => fields[name]);
}

type MailKind = Exclude<ResponseKind, 'ticket' | 'take-back' | 'sign-out'>;

const TEXTS: Readonly<Record<string, Readonly<Record<MailKind, Omit<ResponseTemplate, 'kind'>>>>> = {
  en: {
    'tell-person': {
      subject: 'About what you moved on {time}',
      text: 'Hello {person},\n\non {time} you moved "{title}" to {destination}. It held {found}. Please use the approved way for such data.\n\nIf you think this is wrong, answer this mail.',
    },
    'tell-manager': {
      subject: 'About data that {person} moved',
      text: 'Hello,\n\non {time} {person} moved "{title}" to {destination}. It held {found}. Please talk about the approved way for such data.\n\nReference: incident {number}.',
    },
    'tell-address': {
      subject: 'Incident {number}',
      text: 'Incident {number}: on {time} {person} moved "{title}" to {destination}. It held {found}.',
    },
    'ask-person': {
      subject: 'A question about what you moved on {time}',
      text: 'Hello {person},\n\non {time} you moved "{title}" to {destination}. It held {found}. What was it for, and did the receiver need it?',
    },
  },
  de: {
    'tell-person': {
      subject: 'Zu Ihrer Übertragung vom {time}',
      text: 'Guten Tag {person},\n\nam {time} haben Sie „{title}“ an {destination} übertragen. Darin standen: {found}. Bitte nutzen Sie für solche Daten den freigegebenen Weg.\n\nWenn das nicht stimmt, antworten Sie auf diese Mail.',
    },
    'tell-manager': {
      subject: 'Zu einer Übertragung von {person}',
      text: 'Guten Tag,\n\nam {time} hat {person} „{title}“ an {destination} übertragen. Darin standen: {found}. Bitte sprechen Sie über den freigegebenen Weg für solche Daten.\n\nVorgang: {number}.',
    },
    'tell-address': {
      subject: 'Vorgang {number}',
      text: 'Vorgang {number}: Am {time} hat {person} „{title}“ an {destination} übertragen. Darin standen: {found}.',
    },
    'ask-person': {
      subject: 'Eine Frage zu Ihrer Übertragung vom {time}',
      text: 'Guten Tag {person},\n\nam {time} haben Sie „{title}“ an {destination} übertragen. Darin standen: {found}. Wofür war das, und brauchte der Empfänger es?',
    },
  },
};

/** Texts to begin with, in a language; English where there are none. */
export function templatesIn(language: string): ResponseTemplate[] {
  const texts = TEXTS[language] ?? TEXTS['en'];
  return Object.entries(texts ?? {}).map(([kind, text]) => ({ kind: kind as ResponseKind, ...text }));
}

const LINK: Readonly<Record<string, string>> = {
  en: 'Answer here until {deadline}: {link}',
  de: 'Antworten Sie hier bis {deadline}: {link}',
};

/** The line with the link by which a question is answered. */
export function linkLine(language: string, link: string, deadline: string): string {
  return (LINK[language] ?? LINK['en'] ?? '').replace('{deadline}', deadline).replace('{link}', link);
}
