import { walkMarkup } from './markup.js';

/**
 * XML as lines of `name: value`, so that names of elements and attributes stand beside their values and escaped
 * characters are read. Undefined where it is not well-formed: then it stays the text it is.
 */
export function xmlLines(text: string): string | undefined {
  const lines: string[] = [];
  const open: string[] = [];
  let own = '';
  const flush = (): void => {
    const value = own.trim().replace(/\s+/g, ' ');
    if (value !== '') lines.push(`${open.at(-1) ?? ''}: ${value}`);
    own = '';
  };
  const wellFormed = walkMarkup(text.replace(/^\uFEFF/, ''), {
    open(name, attributes) {
      flush();
      open.push(name);
      for (const [key, value] of Object.entries(attributes))
        if (value.trim() !== '' && key !== 'xmlns') lines.push(`${key}: ${value.trim()}`);
    },
    text(piece) {
      own += piece;
    },
    close() {
      flush();
      open.pop();
    },
  });
  return wellFormed ? lines.join('\n') : undefined;
}
