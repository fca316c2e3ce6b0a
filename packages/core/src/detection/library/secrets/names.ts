/**
 * How the name of a secret is written and what stands between it and the secret, in sources of plain expressions.
 * Common practice, no source; the words are written from general knowledge of the languages.
 */

/** Names of a password, in the languages of the library. */
export const PASSWORD_NAMES = [
  'password',
  'passwd',
  'passphrase',
  'pass phrase',
  'passcode',
  'pwd',
  'psw',
  'pswd',
  'pword',
  'requirepass',
  'masterauth',
  'userpass',
  'dbpass',
  'pgpassword',
  'sshpass',
  'passwort',
  'kennwort',
  'mot de passe',
  'motdepasse',
  'mdp',
  'contraseña',
  'clave de acceso',
  'contrasenya',
  'senha',
  'palavra passe',
  'wachtwoord',
  'lösenord',
  'passord',
  'adgangskode',
  'kodeord',
  'salasana',
  'lykilorð',
  'aðgangsorð',
  'hasło',
  'hasłem',
  'heslo',
  'heslem',
  'jelszó',
  'jelszava',
  'geslo',
  'lozinka',
  'zaporka',
  'parola',
  'parolă',
  'parole',
  'slaptažodis',
  'parool',
  'salasõna',
  'fjalëkalimi',
  'şifre',
  'parolası',
  'pasfhocal',
  'cyfrinair',
  'пароль',
  'пароля',
  'парола',
  'гасло',
  'лозинка',
  'шифра',
  'κωδικός πρόσβασης',
  'συνθηματικό',
  'סיסמה',
  'סיסמא',
  'كلمة المرور',
  'كلمة السر',
  'گذرواژه',
  'رمز عبور',
  'รหัสผ่าน',
  'mật khẩu',
  'kata sandi',
  '密码',
  '密碼',
  '口令',
  'パスワード',
  '暗証番号',
  '비밀번호',
  '암호',
  'पासवर्ड',
];
/** Names that also mean other things: only a value that looks drawn is believed to be one. */
export const WEAK_NAMES = ['secret', 'token', 'key', 'auth', 'authtoken', 'credential', 'credentials', 'pass', 'pw', 'sig', 'signature', 'sessionid', 'passe', 'clave', 'chiave', 'schlüssel', 'zugangscode', 'ключ', '密钥'];
/** What a key, a token or a secret opens; with one of these before it, it is a secret by name. */
const OPENERS = ['api', 'access', 'private', 'secret', 'encryption', 'signing', 'client', 'auth', 'refresh', 'bearer', 'shared', 'master', 'account', 'storage', 'app', 'application', 'consumer', 'service', 'session', 'subscription', 'license', 'deploy', 'webhook', 'bot', 'id', 'jwt', 'csrf', 'personal', 'security', 'hmac', 'host', 'admin', 'user', 'server', 'write', 'read', 'registration', 'sas', 'oauth'];
const OPENED = ['key', 'token', 'secret'];

/** Names of keys written as one word: `apikey`, `accesstoken`. */
export const JOINED_NAMES = OPENERS.flatMap((opener) => OPENED.map((opened) => `${opener}${opened}`)).filter((name) => !WEAK_NAMES.includes(name));

const LATIN = /^[\p{Script=Latin}\p{M} ]+$/u;
const withoutAccents = (word: string): string => word.normalize('NFD').replace(/\p{M}/gu, '').replace(/ł/g, 'l').replace(/ø/g, 'o').replace(/ð/g, 'd').replace(/ı/g, 'i');
const headed = (word: string): string => word.slice(0, 1).toUpperCase() + word.slice(1);
const anyOf = (words: Iterable<string>): string =>
  [...new Set(words)]
    .sort((left, right) => right.length - left.length)
    .map((word) => word.replaceAll(' ', '[ _-]?'))
    .join('|');

/** A letter or digit of a Latin word: where one stands before a name, the name is the end of another word. */
const IN_WORD = '0-9A-Za-z\\u00c0-\\u024f';

/**
 * Source of an expression for names as people and programs write them: in small letters, in capitals, or with a capital,
 * which may also stand inside a longer name (`dbPassword`).
 */
export function namesExpression(names: readonly string[]): string {
  const latin = names.filter((name) => LATIN.test(name)).flatMap((name) => [name, withoutAccents(name)]);
  const other = names.filter((name) => !LATIN.test(name)).flatMap((name) => [name, headed(name), name.toUpperCase()]);
  const small = anyOf(latin.flatMap((name) => [name, name.toUpperCase()]));
  const capital = anyOf(latin.map(headed));
  return `(?:(?<![${IN_WORD}])(?:${small})|(?<![A-Z])(?:${capital})${other.length === 0 ? '' : `|(?:${anyOf(other)})`})`;
}

const evenCase = (words: readonly string[]): string => anyOf(words.flatMap((word) => [word, word.toUpperCase()]));

/** Source of an expression for a key, token or secret with what it opens before it: `API_KEY`, `clientSecret`. */
export const OPENED_EXPRESSION = `(?<=(?:(?<![A-Za-z])(?:${evenCase(OPENERS)})|(?:${anyOf(OPENERS.map(headed))}))[ _-]?)(?:${evenCase(OPENED)}|${anyOf(OPENED.map(headed))})`;

/** What the name of a setting may end with: which of several it is. */
export const ENDING = '(?:[_-]?(?:base|value|text|string|prod|production|dev|test|staging|live|new|old|BASE|VALUE|PROD|DEV|TEST|LIVE|NEW|\\d{1,2})(?![A-Za-z0-9]))?';

const GAP = '[ \\t]{0,8}';
/** A name ends here and its quotation mark, bracket or index closes. */
const CLOSED = `(?:\\\\{0,2}["'\`\\])]){0,3}`;
const TYPE = '(?::[ ]?[A-Za-z][A-Za-z<>|?. ]{0,30})?';
const OPEN = `(?:\\\\{0,2}["'\`“„«‘]|\\{(?=[^{}\\s:"']{4,64}\\}))?`;
/** `password = `, `"password": "`, `password := '`, `Password:` with the value on the next line. */
const ASSIGNED = `${CLOSED}${GAP}(?:${TYPE}[ ]?(?:=>|={1,3})|:=|:)${GAP}(?:\\r?\\n[ \\t]{0,20})?${OPEN}`;
/** `<password>`, `<entry key="password">`, `<td>Password</td><td>`. */
const ELEMENT = `(?<=<[A-Za-z!?/][^<>]{0,120})${CLOSED}(?:[^<>\\r\\n]{0,60}|</[a-z]{1,10}>\\s{0,10}<[a-z]{1,10}[^<>\\r\\n]{0,60})>[ \\t]{0,20}`;
/** The name and the value are two attributes, members or lines of their own: `name="password" value="`, `name: PASSWORD`, `value: `. */
const PAIRED = `\\\\{0,2}["']?,?[^<>\\r\\n]{0,40}?\\s{1,20}-?[ ]?\\\\{0,2}["']?(?:value|Value|VALUE)\\\\{0,2}["']?[ ]?[:=][ ]?${OPEN}`;
/** `--password `, `-Password `. */
const OPTION = `(?<=(?:^|[\\s"'])-{1,2}[A-Za-z0-9-]{1,40})[ \\t]{1,4}["']?`;
/** `setPassword("`, `password('`. */
const CALLED = `\\([ ]?["'\`]`;
/** `define("DB_PASSWORD", "`, `setProperty('password', '`: the name and the value are two arguments. */
const ARGUMENT = `(?:\\\\{0,2}["'\`]),[ ]{0,4}\\\\{0,2}["'\`]`;
const IS = ['is', 'was', 'be', 'are', 'equals', 'reads', 'now', 'to', 'ist', 'lautet', 'war', 'est', 'était', 'es', 'era', 'é', 'è', 'sera', 'será', 'är', 'er', 'on', 'jest', 'je', 'este', 'luidt', 'yra', 'ir', 'olarak', 'adalah', 'là', 'это', 'є', 'είναι', 'הוא', 'היא', 'هي', 'هو'];
const IS_EXPRESSION = `(?:[ ](?:${IS.join('|')})(?:[ ](?:now|set to|changed to|reset to|still|nu|jetzt|ahora|maintenant))?:?[ ]{1,2}|[ ]?(?:是|为|為|は|が|는|은|คือ|है)[ :]?)`;
/** The words that may stand between a name and the verb: `the password for the safe on deck four is`. */
const BETWEEN = '(?:[ ,]{1,2}[^\\s.!?;:,="\'<>(]{1,20}){0,6}?';
const SPOKEN = `${BETWEEN}${IS_EXPRESSION}["'“„«‘\`(]?`;
/** `password (temporary): `, `Passwort für den Tresor: `. */
const ENTITLED = `(?:[ ]\\([^()\\r\\n]{1,40}\\)|(?:[ ][^\\s.!?;:,="'<>(]{1,20}){1,5})[ ]?:[ ]{1,4}["'“„«‘\`]?`;
/** `password "`, and without any sign where the value looks like none of the words around it. */
const BESIDE = `[ ]{1,2}(?:["'“„«‘\`]|(?=[^\\s"'\`<>,;:]{0,40}\\d)(?=[^\\s"'\`<>,;:]{0,40}[A-Za-z])(?=[^\\s"'\`<>,;:]{6}))`;

/** What stands between the name of a password and the password; ends right before it. */
export const BEFORE_PASSWORD = `(?:${[ASSIGNED, ELEMENT, PAIRED, OPTION, CALLED, ARGUMENT, SPOKEN, ENTITLED, BESIDE].join('|')})`;
/** The same for names that mean other things too: programs write so, people seldom. */
export const BEFORE_KEY = `(?:${[ASSIGNED, ELEMENT, PAIRED, OPTION, CALLED, ARGUMENT, IS_EXPRESSION].join('|')})`;

/** Signs of a value without quotation marks; a web address goes on with another name and value behind `&`. */
const BARE = `(?:(?!&[A-Za-z_]{1,30}=)[^\\s"'\`<>,;“”„«»]){3,200}`;
const LAST = `(?!&[A-Za-z_]{1,30}=)[^\\s"'\`<>,;“”„«».:?)\\]}\\\\]`;
const quoted = (open: string, close: string): string => `(?<=${open})[^${close}\\r\\n]{3,199}[^${close}\\r\\n\\\\](?=\\\\{0,2}${close})`;
const VALUES = [quoted('"', '"'), quoted("'", "'"), quoted('`', '`'), '(?<=[“„«‘])[^”“»’\\r\\n]{4,200}(?=[”“»’])', '(?<=>[ \\t]{0,20})[^<>\\r\\n\\s][^<>\\r\\n]{2,199}(?=<)', `${BARE}${LAST}`];

/** A value: what stands between quotation marks or tags, else signs without a space. */
export const SECRET_VALUE = `(${VALUES.join('|')})`;
