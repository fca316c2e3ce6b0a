import type { PersonNotice } from '@lantern/contracts';

/** What can be told about: each has its own words for going and coming back. */
export type ToldAbout =
  | 'mail'
  | 'message'
  | 'paste'
  | 'copy'
  | 'share'
  | 'export'
  | 'record'
  | 'sign-in'
  | 'connection'
  | 'question'
  | 'answer';
/** Languages in which people are told. */
export type ToldLanguage = 'en' | 'de';

export function languageOf(language: string): ToldLanguage {
  return language.slice(0, 2) === 'de' ? 'de' : 'en';
}

interface Going {
  /** With its article, at the beginning of a sentence. */
  readonly thing: string;
  readonly went: string;
  readonly didNotGo: string;
  readonly goes: string;
  readonly comesBack: string;
  readonly send: string;
  readonly kept: string;
}

const GOING: Readonly<Record<ToldLanguage, Readonly<Record<ToldAbout, Going>>>> = {
  en: {
    mail: going([
      'Your mail',
      'was sent',
      'was not sent',
      'it is sent',
      'Send it with this reason',
      'Your mail is kept as a draft. Change it below and send it again.',
    ]),
    message: going([
      'Your message',
      'was shown',
      'was not sent',
      'it is shown',
      'Show it with this reason',
      'Your message is kept here, visible only to you. Change it and send it again.',
    ]),
    paste: going([
      'What you put in',
      'went in',
      'did not go in',
      'it goes in',
      'Put it in with this reason',
      'Your text is kept here, visible only to you. Change it and try again.',
    ]),
    copy: going([
      'Your copy',
      'was made',
      'was not made',
      'it is made',
      'Make it with this reason',
      'Nothing was lost. The original is still in its place.',
    ]),
    share: going([
      'Your share',
      'was made',
      'was not made',
      'it is made',
      'Share with this reason',
      'The file is as it was.',
    ]),
    export: going([
      'Your export',
      'is ready',
      'was not made',
      'you get it',
      'Take it with this reason',
      'Nothing was taken out.',
      'it is not made',
    ]),
    record: going([
      'The record',
      'was opened',
      'was not opened',
      'it is opened',
      'Open it with this reason',
      'Nothing was shown.',
      'it stays closed',
    ]),
    'sign-in': going([
      'Your sign-in',
      'is complete',
      'was refused',
      'you are signed in',
      'Sign in with this reason',
      'Nobody is signed in.',
      'you are not signed in',
    ]),
    connection: going([
      'The application',
      'is connected',
      'was not connected',
      'it is connected',
      'Connect it with this reason',
      'It gets nothing.',
      'it is not connected',
    ]),
    question: going([
      'Your question',
      'was asked',
      'was not asked',
      'it is asked',
      'Ask it with this reason',
      'The assistant did not get it. Ask without what was found.',
      'it is not asked',
    ]),
    answer: going([
      'The answer',
      'was given',
      'is not shown',
      'you can read it',
      'Read it with this reason',
      'Ask whoever answers for the assistant.',
      'it stays closed',
    ]),
  },
  de: {
    mail: going([
      'Ihre Mail',
      'wurde gesendet',
      'wurde nicht gesendet',
      'sie wird gesendet',
      'Mit diesem Grund senden',
      'Ihre Mail liegt bei den Entwürfen: ändern Sie sie unten und senden Sie sie noch einmal.',
      'sie kommt zu Ihnen zurück',
    ]),
    message: going([
      'Ihre Nachricht',
      'wurde gezeigt',
      'wird niemandem gezeigt',
      'sie wird gezeigt',
      'Mit diesem Grund zeigen',
      'Was Sie geschrieben haben, bleibt hier, nur für Sie: ändern Sie es und senden Sie es noch einmal.',
      'sie kommt zu Ihnen zurück',
    ]),
    paste: going([
      'Was Sie eingegeben haben',
      'ging hinein',
      'ging nicht hinein',
      'es geht hinein',
      'Mit diesem Grund hineingeben',
      'Was Sie geschrieben haben, bleibt hier, nur für Sie: ändern Sie es und versuchen Sie es noch einmal.',
      'es kommt zu Ihnen zurück',
    ]),
    copy: going([
      'Ihre Kopie',
      'wurde gemacht',
      'wurde nicht gemacht',
      'sie wird gemacht',
      'Mit diesem Grund machen',
      'Nichts ging verloren: was Sie nahmen, ist noch, wo es war.',
      'sie wird nicht gemacht',
    ]),
    share: going([
      'Ihre Freigabe',
      'wurde gemacht',
      'wurde nicht gemacht',
      'sie wird gemacht',
      'Mit diesem Grund freigeben',
      'Die Datei ist, wie sie war.',
      'sie wird nicht gemacht',
    ]),
    export: going([
      'Ihr Export',
      'ist fertig',
      'wurde nicht gemacht',
      'Sie bekommen ihn',
      'Mit diesem Grund exportieren',
      'Es wurde nichts herausgenommen.',
      'er wird nicht gemacht',
    ]),
    record: going([
      'Der Datensatz',
      'wurde geöffnet',
      'wurde nicht geöffnet',
      'er wird geöffnet',
      'Mit diesem Grund öffnen',
      'Es wurde nichts gezeigt.',
      'er bleibt geschlossen',
    ]),
    'sign-in': going([
      'Ihre Anmeldung',
      'ist fertig',
      'wurde abgelehnt',
      'Sie sind angemeldet',
      'Mit diesem Grund anmelden',
      'Niemand ist angemeldet.',
      'Sie sind nicht angemeldet',
    ]),
    connection: going([
      'Die Anwendung',
      'ist verbunden',
      'wurde nicht verbunden',
      'sie wird verbunden',
      'Mit diesem Grund verbinden',
      'Sie bekommt nichts.',
      'sie wird nicht verbunden',
    ]),
    question: going([
      'Ihre Frage',
      'wurde gestellt',
      'wurde nicht gestellt',
      'sie wird gestellt',
      'Mit diesem Grund fragen',
      'Der Assistent hat sie nicht bekommen. Fragen Sie ohne das, was gefunden wurde.',
      'sie wird nicht gestellt',
    ]),
    answer: going([
      'Die Antwort',
      'wurde gegeben',
      'wird nicht gezeigt',
      'Sie können sie lesen',
      'Mit diesem Grund lesen',
      'Fragen Sie, wer für den Assistenten zuständig ist.',
      'sie bleibt geschlossen',
    ]),
  },
};

type GoingWords = readonly [
  thing: string,
  went: string,
  didNotGo: string,
  goes: string,
  send: string,
  kept: string,
  comesBack?: string,
];

function going([
  thing,
  went,
  didNotGo,
  goes,
  send,
  kept,
  comesBack = 'it comes back to you',
]: GoingWords): Going {
  return { thing, went, didNotGo, goes, comesBack, send, kept };
}

const PHRASES = {
  en: {
    holds: 'It contains',
    in: 'in',
    outside: (who: string, one: boolean) => `and ${who} ${one ? 'is' : 'are'} outside the organisation`,
    unchecked: (name: string, why: string) => `${name} could not be checked: ${why}.`,
    more: (address: string) => `More: ${address}`,
    questions: (contact: string) => `Questions: ${contact}`,
    unfinished: 'It could not be checked completely, so it was not sent automatically.',
    why: 'Why is this necessary?',
    ownWords: 'In your own words',
    takeBack: 'Cancel',
    until: (time: string, then: string, whileOpen: boolean) =>
      `${whileOpen ? 'While this page is open, until' : 'Until'} ${time}${whileOpen ? ' at the latest' : ''}; then ${then}.`,
    confirm: 'Confirm identity',
    passkey: 'Use a passkey',
    code: 'Code from your phone',
    proofTerms: (time: string, tries: number, minutes: number) =>
      `${tries === 1 ? 'One try' : `${tries} tries`}, until ${time}.${minutes > 0 ? ` No new request for ${minutes} minutes after that.` : ''}`,
    again: (time: string, once: boolean) =>
      once
        ? `You can do this once more until ${time}. It was not kept, so please repeat it yourself.`
        : `The same is allowed for you until ${time}.`,
    withdrawn: 'Your share was withdrawn',
    askSomebody: 'Request an override',
    whyAll: 'Reason. The person who decides reads it.',
    ask: 'Ask',
    asked: 'Your request was sent. The item waits for a decision.',
    notIt: 'Report a false finding',
    whyNot: 'What is it really? An analyst reads this.',
    report: 'Say so',
    reported: 'Thank you. An analyst will review your report of a false finding.',
    rule: (number: number, policy: string) => `Rule ${number} of "${policy}".`,
    recorded: (incident: number) => `This is recorded${incident > 0 ? ` under number ${incident}` : ''}.`,
    replied: (thing: string, goes: boolean) => `${thing} ${goes ? 'is on its way' : 'was taken back'}`,
  },
  de: {
    holds: 'Es enthält',
    in: 'in',
    outside: (who: string, one: boolean) => `und ${who} ${one ? 'ist' : 'sind'} außerhalb des Hauses`,
    unchecked: (name: string, why: string) => `${name} konnte nicht geprüft werden: ${why}.`,
    more: (address: string) => `Mehr dazu: ${address}`,
    questions: (contact: string) => `Fragen: ${contact}`,
    unfinished:
      'Es konnte nicht zu Ende gelesen werden, und was nicht geprüft werden kann, geht nicht von selbst.',
    why: 'Warum soll es hinausgehen?',
    ownWords: 'In Ihren eigenen Worten',
    takeBack: 'Zurücknehmen',
    until: (time: string, then: string, whileOpen: boolean) =>
      `${whileOpen ? 'Solange diese Seite offen ist, längstens bis' : 'Bis'} ${time}; dann: ${then}.`,
    again: (time: string, once: boolean) =>
      once
        ? `Sie können dies bis ${time} noch einmal tun. Es wurde nicht aufgehoben; bitte wiederholen Sie es selbst.`
        : `Dasselbe ist Ihnen bis ${time} erlaubt.`,
    withdrawn: 'Ihre Freigabe wurde zurückgezogen',
    confirm: 'Bestätigen',
    passkey: 'Passkey verwenden',
    code: 'Code Ihres zweiten Faktors',
    proofTerms: (time: string, tries: number, minutes: number) =>
      `${tries === 1 ? 'Ein Versuch' : `${tries} Versuche`}, bis ${time}.${minutes > 0 ? ` Danach werden Sie ${minutes} Minuten lang nicht mehr gefragt.` : ''}`,
    askSomebody: 'Jemanden bitten, es gehen zu lassen',
    whyAll: 'Warum es trotzdem gehen soll; wer entscheidet, liest es',
    ask: 'Bitten',
    asked: 'Jemand sieht es sich an; es wartet',
    notIt: 'Das ist nicht, was gefunden wurde',
    whyNot: 'Was ist es wirklich? Wer es prüft, liest das',
    report: 'Melden',
    reported: 'Sie haben gemeldet, dass dieser Fund falsch ist. Danke; jemand sieht es sich an.',
    rule: (number: number, policy: string) => `Regel ${number} von „${policy}“.`,
    recorded: (incident: number) => `Das ist festgehalten${incident > 0 ? `, Nummer ${incident}` : ''}.`,
    replied: (thing: string, goes: boolean) => `${thing} ${goes ? 'ist unterwegs' : 'wurde zurückgenommen'}`,
  },
} as const;

export function phrases(language: ToldLanguage) {
  return PHRASES[language];
}

export function goingOf(about: ToldAbout, language: ToldLanguage): Going {
  return GOING[language][about];
}

/** What happened, in a line. */
export function headOf(
  { answer, state, proof }: Pick<PersonNotice, 'answer' | 'state' | 'proof'>,
  about: ToldAbout = 'mail',
  language: ToldLanguage = 'en',
): string {
  const { thing, went, didNotGo } = goingOf(about, language);
  const german = language === 'de';
  switch (state) {
    case 'told':
      return german ? `${thing} ${went}. Ein Hinweis dazu` : `${thing} ${went}. Please note`;
    case 'waiting':
      if (proof && !proof.isDone)
        return german
          ? `${thing} wartet auf Ihren zweiten Faktor`
          : `${thing} waits until you confirm your identity`;
      if (answer === 'ask') return german ? `${thing}: vorher eine Frage` : `${thing}: a question first`;
      return german ? `${thing} wartet, bis jemand hingesehen hat` : `${thing} waits until someone decides`;
    case 'went-on':
      return `${thing} ${went}`;
    case 'taken-back':
      return german ? `${thing} wurde zurückgenommen` : `${thing} was taken back`;
    case 'refused':
      return `${thing} ${didNotGo}`;
  }
}
