/** Elements of HTML that hold what a page shows; what is called alike in XML is rare, and two of them are rarer. */
const ELEMENTS = new Set([
  'a', 'abbr', 'address', 'article', 'aside', 'b', 'blockquote', 'body', 'br', 'button', 'caption', 'center', 'code', 'col',
  'colgroup', 'dd', 'div', 'dl', 'dt', 'em', 'fieldset', 'figure', 'font', 'footer', 'form', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6',
  'head', 'header', 'hr', 'html', 'i', 'iframe', 'img', 'input', 'label', 'li', 'link', 'main', 'meta', 'nav', 'ol', 'optgroup',
  'option', 'p', 'pre', 'script', 'section', 'select', 'small', 'span', 'strong', 'style', 'sub', 'sup', 'svg', 'table', 'tbody',
  'td', 'textarea', 'tfoot', 'th', 'thead', 'title', 'tr', 'u', 'ul',
]); // prettier-ignore
/** One of them at least divides what a page shows: letters alone are names in XML, too. */
const DIVIDING = new Set([
  'body',
  'br',
  'div',
  'h1',
  'h2',
  'h3',
  'li',
  'p',
  'span',
  'table',
  'td',
  'tr',
  'ul',
]);
/** Tags looked at; the beginning of a page tells. */
const LOOKED_AT = 60;
/** Share of them that must be HTML's: pages have a few of their maker's. */
const ENOUGH = 0.9;
const WHOLE_PAGE = /^\s*(?:<!--.{0,500}?-->\s*)?(?:<!doctype html|<html[\s>])/is;

/** Whether a text is a page of HTML or a piece of one, by its beginning; `name` is asked only where text stands first. */
export function looksLikeHtml(head: string, name: string): boolean {
  if (WHOLE_PAGE.test(head.slice(0, 1024))) return true;
  const begins = /^\s*<[a-z!]/i.test(head);
  if (!begins && !/\.(?:html?|xhtml)$/i.test(name)) return false;
  const names: string[] = [];
  for (const [, tag = ''] of head.matchAll(/<\/?([a-z][a-z0-9:-]{0,20})(?=[\s/>])/gi)) {
    names.push(tag.toLowerCase());
    if (names.length === LOOKED_AT) break;
  }
  const known = names.filter((tag) => ELEMENTS.has(tag)).length;
  return known >= 2 && known >= names.length * ENOUGH && names.some((tag) => DIVIDING.has(tag));
}
