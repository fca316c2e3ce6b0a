import { COUNTRY_LANGUAGES, type ReadyPattern } from '@lantern/core/detection';
import type { Chance } from './random.js';

/** Sentences people write around a number, `{name}` for what it is called and `{value}` for the number itself. */
const SENTENCES: Readonly<Record<string, readonly string[]>> = {
  en: [
    'My {name} is {value}, please confirm.',
    'Please find the {name} below:\n{value}\nThank you.',
    'We hold {value} as the {name} of the guest.',
    '{name}: {value}',
  ],
  de: [
    'Meine {name} lautet {value}, bitte bestätigen.',
    'Anbei die {name} des Gastes: {value}.',
    '{name}: {value}',
  ],
  fr: [
    'Voici mon {name} : {value}, merci de confirmer.',
    'Le {name} du passager est {value}.',
    '{name} : {value}',
  ],
  es: ['Mi {name} es {value}, gracias.', 'Adjunto el {name} del pasajero: {value}.', '{name}: {value}'],
  it: ['Il mio {name} è {value}, grazie.', 'Il {name} del passeggero è {value}.', '{name}: {value}'],
  pt: ['O meu {name} é {value}, obrigado.', 'Segue o {name} do passageiro: {value}.', '{name}: {value}'],
  nl: ['Mijn {name} is {value}, graag bevestigen.', 'Het {name} van de gast is {value}.', '{name}: {value}'],
  sv: ['Mitt {name} är {value}, tack.', 'Gästens {name} är {value}.', '{name}: {value}'],
  no: ['Mitt {name} er {value}, takk.', 'Gjestens {name} er {value}.', '{name}: {value}'],
  da: ['Mit {name} er {value}, tak.', 'Gæstens {name} er {value}.', '{name}: {value}'],
  fi: ['Minun {name} on {value}, kiitos.', 'Matkustajan {name} on {value}.', '{name}: {value}'],
  pl: [
    'Mój {name} to {value}, proszę o potwierdzenie.',
    'Podaję {name} pasażera: {value}.',
    '{name}: {value}',
  ],
  cs: ['Moje {name} je {value}, děkuji.', '{name}: {value}'],
  sk: ['Moje {name} je {value}, ďakujem.', '{name}: {value}'],
  hu: ['Az én {name} a következő: {value}, köszönöm.', '{name}: {value}'],
  ru: ['Мой {name} {value}, спасибо.', '{name}: {value}'],
  uk: ['Мій {name} {value}, дякую.', '{name}: {value}'],
  zh: ['我的{name}是{value}，请确认。', '{name}：{value}'],
  ja: ['私の{name}は{value}です。', '{name}：{value}'],
  ko: ['제 {name}는 {value}입니다.', '{name}: {value}'],
  tr: ['Benim {name} {value}, teşekkürler.', '{name}: {value}'],
  ro: ['Al meu {name} este {value}, mulțumesc.', '{name}: {value}'],
  el: ['Το {name} μου είναι {value}, ευχαριστώ.', '{name}: {value}'],
};

/** Names by which a pattern is planted: its own ones that are words in capitals or small letters. */
function nameOf(pattern: ReadyPattern, random: Chance): string {
  return random.pick(pattern.namingWords.slice(0, 3)).replace(/^=/, '');
}

/** The same value in a sentence of a language of its country, in a form, in a CSV and in a table. */
export function sentencesFor(pattern: ReadyPattern, value: string, random: Chance): string[] {
  const languages =
    pattern.countries.length === 0 || pattern.countries.length > 12
      ? ['en']
      : (COUNTRY_LANGUAGES[pattern.countries[0] ?? ''] ?? ['en']);
  const sentences = SENTENCES[random.pick([...languages])] ?? SENTENCES.en ?? [];
  const name = nameOf(pattern, random);
  const field = name.replace(/[^\p{L}\p{N}]+/gu, '_');
  return [
    random.pick(sentences).replace('{name}', name).replace('{value}', value),
    `{"guest": "Bea Lindqvist", "${field}": "${value}", "cabin": 14}`,
    `Guest\t${name}\tCabin\nBea Lindqvist\t${value}\t14\nTobias Lund\t\t15\n`,
  ];
}
