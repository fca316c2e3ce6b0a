import { convert } from 'html-to-text';
import { Parser } from 'htmlparser2';
import { MAX_MARKUP_DEPTH } from './limits.js';

/** Text of an HTML page as it stands on it, elements that are hidden included; markup deeper than the limit is left out. */
export function htmlText(html: string): string {
  return convert(html, {
    wordwrap: false,
    limits: { maxDepth: MAX_MARKUP_DEPTH },
    selectors: [
      { selector: 'img', format: 'skip' },
      { selector: 'a', options: { ignoreHref: true } },
      {
        selector: 'table',
        format: 'dataTable',
        options: { uppercaseHeaderCells: false, maxColumnWidth: 10_000 },
      },
    ],
  });
}

/** Attributes that hold text which a page keeps to itself or shows on demand. */
const TELLING = ['value', 'alt', 'title', 'placeholder', 'content', 'aria-label'] as const;

/** What a page does not show: comments, values of fields, texts behind pictures, its description, data in scripts. */
export function hiddenHtml(html: string): string {
  const lines: string[] = [];
  let inScript = false;
  const parser = new Parser({
    onopentag(name, attributes) {
      inScript = name === 'script';
      for (const attribute of TELLING) {
        const text = attributes[attribute]?.trim();
        if (!text) continue;
        const named = attributes['name'] ?? attributes['id'] ?? attributes['property'] ?? attribute;
        lines.push(`${named}: ${text}`);
      }
    },
    ontext(text) {
      if (inScript && text.trim() !== '') lines.push(text);
    },
    onclosetag() {
      inScript = false;
    },
    oncomment(text) {
      if (text.trim() !== '') lines.push(text.trim());
    },
  });
  parser.write(html);
  parser.end();
  return lines.join('\n');
}
