import { Tokenizer } from 'htmlparser2';

/** What a reader of HTML wants to hear; names in small letters. */
export interface HtmlListener {
  open(name: string, attributes: Readonly<Record<string, string>>): void;
  text(text: string): void;
  close(name: string): void;
  comment(text: string): void;
}

/** Attributes of one element that are read; more is no page that anybody wrote. */
const MAX_ATTRIBUTES = 100;

/**
 * Walks HTML as it stands, tag by tag and in linear time: no tree is built and no depth is followed, so that neither
 * nesting nor unclosed elements cost anything.
 */
export function walkHtml(html: string, listener: HtmlListener): void {
  let name = '';
  let attribute = '';
  let value: string[] = [];
  let attributes: Record<string, string> = {};
  let count = 0;
  const opened = (): void => {
    listener.open(name, attributes);
    attributes = {};
    count = 0;
  };
  const tokenizer = new Tokenizer(
    { xmlMode: false, decodeEntities: true },
    {
      onopentagname: (start, end) => (name = html.slice(start, end).toLowerCase()),
      onopentagend: opened,
      onselfclosingtag: opened,
      onclosetag: (start, end) => listener.close(html.slice(start, end).toLowerCase()),
      onattribname: (start, end) => {
        attribute = html.slice(start, end).toLowerCase();
        value = [];
      },
      onattribdata: (start, end) => value.push(html.slice(start, end)),
      onattribentity: (codepoint) => value.push(String.fromCodePoint(codepoint)),
      onattribend: () => {
        count += 1;
        if (count <= MAX_ATTRIBUTES && !Object.hasOwn(attributes, attribute))
          attributes[attribute] = value.join('');
      },
      ontext: (start, end) => listener.text(html.slice(start, end)),
      ontextentity: (codepoint) => listener.text(String.fromCodePoint(codepoint)),
      oncomment: (start, end, offset) => listener.comment(html.slice(start, end - offset)),
      oncdata: (start, end, offset) => listener.text(html.slice(start, end - offset)),
      ondeclaration: () => undefined,
      onprocessinginstruction: () => undefined,
      onend: () => undefined,
    },
  );
  tokenizer.write(html);
  tokenizer.end();
}
