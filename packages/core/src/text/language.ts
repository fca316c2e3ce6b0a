/** Words that every text of a language is full of and others lack (common practice, no source; from general knowledge). */
const FUNCTION_WORDS: Readonly<Record<string, string>> = {
  en: 'the and of to is in that for with you this are have will please',
  de: 'und der die das nicht ist mit für ein eine auf bitte wird sind werden',
  fr: 'le les des une est et pour dans vous avec sur nous votre merci cette',
  es: 'el los las una que por con para del este está su gracias como más',
  it: 'il che di per una con non sono della questo grazie gli alla dei nel',
  pt: 'o os uma não para com por dos que seu sua obrigado está foi nosso',
  nl: 'de het een van en niet voor met zijn wordt deze graag bij ook naar',
  sv: 'och att det som för inte med är till den har ett vi på av',
  no: 'og ikke det som for med er til den har jeg vi på av en',
  da: 'og ikke det som for med er til den har jeg vi på af en',
  fi: 'ja on ei että se hän joka mutta ovat tämä kanssa myös olen sekä kiitos',
  is: 'og að ekki það sem fyrir með er til hann við eru þetta þú frá',
  et: 'ja on ei et see mis ning kui palun meie teie oma selle ka aga',
  lv: 'un ir nav ka par ar no uz lai mēs jūs kas bet arī šis',
  lt: 'ir yra ne kad su iš į už bet mes jūs kaip arba šis dėl',
  pl: 'i w nie na się jest do że z dla proszę oraz przez jak są',
  cs: 'a v na se je že do pro prosím s jsou nebo podle také jako',
  sk: 'a v na sa je že do pre prosím s sú alebo podľa tiež ako',
  hu: 'a az és nem hogy egy van is meg kérem vagy mint ez csak már',
  sl: 'in je da se na za ne so z po tudi ki kot prosimo pri',
  hr: 'i je da se na za ne su u od koji kao molimo te ili',
  ro: 'și nu este pe cu la din pentru care sunt vă rugăm mai sau prin',
  tr: 've bir bu için ile de da olarak lütfen daha çok gibi kadar olan ne',
  ru: 'и в не на что с по для как это из или вы мы пожалуйста',
  uk: 'і в не на що з для як це та або ви ми будь ласка',
  bg: 'и в не на че с за как това от или вие ние моля са',
  sr: 'и је да се на за не су у од који као молимо те или',
  el: 'και το να της του με για που είναι δεν στο την από τα παρακαλώ',
  id: 'yang dan di untuk dengan ini itu tidak dari pada adalah mohon kami anda akan',
  vi: 'và của là không cho có được các này với trong một vui lòng đã',
};

/** Scripts that one language of the library is written in. */
const SCRIPTS: readonly (readonly [expression: RegExp, language: string])[] = [
  [/\p{Script=Hangul}/u, 'ko'],
  [/[\p{Script=Hiragana}\p{Script=Katakana}]/u, 'ja'],
  [/\p{Script=Han}/u, 'zh'],
  [/\p{Script=Hebrew}/u, 'he'],
  [/\p{Script=Thai}/u, 'th'],
  [/\p{Script=Arabic}/u, 'ar'],
];

/** So much of a text is read: a letter is in one language. */
const MOST_READ = 20_000;
/** Fewer of its words may stand in a text of any language. */
const FEWEST = 2;

const languagesByWord = new Map<string, string[]>();
for (const [language, words] of Object.entries(FUNCTION_WORDS))
  for (const word of words.split(' '))
    languagesByWord.set(word, [...(languagesByWord.get(word) ?? []), language]);

/**
 * The language that a text is written in, as an ISO 639-1 code, or null where it is too short or too mixed to tell.
 * A word that several languages have counts for each of them in parts.
 */
export function languageOf(text: string): string | null {
  const read = text.slice(0, MOST_READ);
  const counts = new Map<string, number>();
  for (const [word] of read.toLowerCase().matchAll(/[\p{L}\p{M}]+/gu)) {
    const languages = languagesByWord.get(word);
    if (!languages) continue;
    for (const language of languages)
      counts.set(language, (counts.get(language) ?? 0) + 1 / languages.length);
  }
  const [first, second] = [...counts].sort((left, right) => right[1] - left[1]);
  if (first && first[1] >= FEWEST && first[1] >= (second?.[1] ?? 0) * 1.3) return first[0];
  const script = SCRIPTS.find(([expression]) => expression.test(read));
  return script?.[1] ?? null;
}
