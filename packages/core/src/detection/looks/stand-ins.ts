/**
 * What stands where a secret would stand and is none: a placeholder, a mask, or the place a program reads it from.
 * Common practice, no source; written from general knowledge of configuration files and manuals.
 */

/** Words that placeholders are made of. A value of these alone, without digits, is one: `your-api-key-here`. */
const PLACEHOLDER_WORDS = new Set(
  (
    'a access account add admin an and any api app application as auth bearer blank change changeit changeme client clear code company ' +
    'correct credential credentials current custom database db default demo disabled dummy edit empty enabled encrypted enter env ' +
    'environment example fake false field file fill foo bar baz foobar for from generated given goes has hash here hidden id in insert ' +
    'invalid is it key keys lock login long mask masked me missing my name new nil no none not null number obfuscated of off old on one ' +
    'optional or our pass passcode passphrase passwd password passwords phrase placeholder please private project provide put pwd random ' +
    'real redacted removed replace required root same sample see secret secrets secure secured server service set some something spec ' +
    'stored str string strong super sure temp temporary test text that the this to tbd todo token true type undefined unknown unset use ' +
    'user username value var variable vault very with without wrong yes you your xxx na n passwort kennwort geheim hier dein ihr neues ' +
    'votre mot de passe contrasena contraseña tu clave senha sua wachtwoord heslo haslo hasło lösenord'
  ).split(' '),
);

/** The same sign again and again, or signs that hide what stands there: `****`, `••••`, `xxxx`, `....`. */
const MASK = /^(?:(.)\1{2,}|[*•●·.…_xX#?=–—-]{3,}|\[?[*•●xX]{2,}[^]*)$/u;
/** Brackets of templates around all of it: `<password>`, `${PASSWORD}`, `{{ password }}`, `%PASSWORD%`, `[redacted]`. */
const TEMPLATE =
  /^(?:<[^<>]*>?|\$\{[^]*|\$\([^]*|\{\{[^]*|\{[\w .-]*\}|%[\w.-]+%|#\{[^]*|\[{1,2}[^[\]]*\]{1,2}|@{1,2}\w+@{1,2}|__\w+__|<%[^]*|\$[A-Z_]+|\$[a-z_]+)$/;
/** Bound by position or name, as in statements and formats: `%s`, `{0}`, `:password`, `?`. */
const BOUND = /^(?:%\w|\{\d*\}|:[A-Za-z_]+|\?+|@[A-Za-z_]+)$/;
/** Rows that nobody draws: they stand in manuals. */
const ROWS =
  /1234567890|0123456789|abcdefgh|deadbeef|(?<!\.)example|redacted|placeholder|changeme|change_me|lorem/i;
/** A name of an environment, a store or a reference, and what to read there: `env:DB_PASSWORD`, `arn:…`. */
const POINTER =
  /^(?:arn|vault|env|ref|file|ssm|kms|keyring|secretref|secretsmanager|ref\+\w+|process\.env|os\.environ|System\.getenv|config|settings|self|this|options|args|params|request|req|ctx)\b[:.[/]/i;
const TAG = /^!(?:[A-Za-z]+)(?:\s|$)/;

const wordsIn = (written: string): string[] =>
  written
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '');

/** Whether a value stands in for a secret that the text does not hold. */
export function isPlaceholder(written: string): boolean {
  const value = written.trim();
  if (MASK.test(value) || TEMPLATE.test(value) || BOUND.test(value) || ROWS.test(value)) return true;
  const words = wordsIn(value);
  return words.length > 0 && words.every((word) => PLACEHOLDER_WORDS.has(word));
}

const ADDRESS = /^[a-z][a-z0-9+.-]{1,20}:\/\//i;
const MAIL = /^[^@\s]+@[a-z0-9-]+(?:\.[a-z0-9-]+)*\.[a-z]{2,}$/i;
/** From the root, the folder, home, a drive or a share. */
const PATH = /^(?:\.{0,2}\/[\w.@-]+(?:\/|$)|~\/|[A-Za-z]:[\\/]|\\\\|%\w+%[\\/])/;
const WORD_PATH = /^[a-z][\w.-]*(?:\/[a-z][\w.-]*)+$/i;
const FILE =
  /\.(?:txt|pem|key|crt|cer|json|ya?ml|env|conf|cfg|ini|properties|toml|xml|kdbx?|pfx|p12|jks|php|py|[jt]sx?|java|cs|go|rb|sh|md|html?|docx?|xlsx?|pdf|log)$/i;
/** A name with an opening bracket: a call or a place in a list. */
const CALL = /^[A-Za-z_$][\w$.:>-]*[([]/;
const MEMBER = /^[A-Za-z_$][\w$]*(?:(?:\.|->|::|\?\.)[A-Za-z_$][\w$]*)+$/;
/** Types and classes with a number inside, and what a compiler adds: `Uint8Array`, `Token$1`. */
const PROGRAM_NAME =
  /^_*[A-Za-z]+\d{1,5}[A-Z][a-z]{2,}[A-Za-z]*$|^[a-z]+(?:[A-Z][a-z]+){2,}\d?$|^[A-Za-z_]+\$\d{0,3}$|^[A-Za-z_]+\|\|?[A-Za-z_]+$/;
/** Rows of names with stops between them, in quotation marks too: `users.*.password`. */
const NAME_PATH = /^[A-Za-z_*$]+(?:\.[A-Za-z_*$]+)+$/;
const INDEXED = /\[\d+\]\./;
const OPERATOR = /^\(|[{}]|=>|&&|\|\||===|!==|^[!=]=/;
const EXPRESSION = /^\^|\\[dwsSWD]|\[[^\]]*a-z|\(\?/;

/**
 * Whether a value is a place, a call, a name of a program or code rather than a secret. `quoted` where it stands in
 * quotation marks: names of a program stand without.
 */
export function isReference(written: string, quoted: boolean): boolean {
  const value = written.trim();
  if (ADDRESS.test(value) || MAIL.test(value) || PATH.test(value) || FILE.test(value)) return true;
  if (POINTER.test(value) || TAG.test(value) || EXPRESSION.test(value)) return true;
  if (NAME_PATH.test(value) || INDEXED.test(value)) return true;
  if (WORD_PATH.test(value) && !looksEncoded(value)) return true;
  return (
    !quoted && (CALL.test(value) || PROGRAM_NAME.test(value) || MEMBER.test(value) || OPERATOR.test(value))
  );
}

/** Capitals, small letters and digits together in a long row: base 64 has strokes too. */
const looksEncoded = (value: string): boolean =>
  value.length >= 20 && /[a-z]/.test(value) && /[A-Z]/.test(value) && /\d/.test(value);
