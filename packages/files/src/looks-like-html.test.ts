import { looksLikeHtml } from './looks-like-html.js';

describe('HTML by its beginning', () => {
  it.each([
    ['a page', '<!DOCTYPE html><html><body>x'],
    ['a page behind a comment', '<!-- saved -->\n<HTML>'],
    ['a piece with a paragraph', '<p>Dear all,</p>\n<table><tr><td>1</td></tr></table>'],
    ['a table alone', '<table>\n <tr>\n  <td>1</td>'],
    ['a body in capitals with attributes', '<BODY bgcolor="#fff"><DIV class=a>x</DIV>'],
    ['a few elements of its maker', `<div>${'<p>x</p>'.repeat(12)}<o:p></o:p></div>`],
  ])('is %s', (_what, text) => expect(looksLikeHtml(text, 'list')).toBe(true));

  it.each([
    ['plain text', 'Dear all, a < b and c > d'],
    ['plain text about tags', 'Use <b> for bold and </b> to end it'],
    ['a record in XML', '<order><id>7</id><title>x</title><amount>3</amount></order>'],
    ['a feed', '<rss><channel><title>x</title><item><link>y</link><guid>z</guid></item></channel></rss>'],
    ['a picture in SVG', '<svg><path d="M1 1"/><path d="M2 2"/><circle r="1"/></svg>'],
    ['one tag', '<p>'],
  ])('is not %s', (_what, text) => expect(looksLikeHtml(text, 'list')).toBe(false));

  it('is text that has tags further on in a file that says so', () => {
    const text = 'Dear all,<br>the list:<table><tr><td>1</td></tr></table>';
    expect([looksLikeHtml(text, 'a.html'), looksLikeHtml(text, 'a.txt')]).toEqual([true, false]);
  });
});
