import { READY_PATTERNS, compileScanner } from '@lantern/core/detection';
import { readFile } from './read-file.js';

const textOf = async (name: string, content: string): Promise<string> => {
  const [part] = await readFile({ name, bytes: Buffer.from(content) });
  return part?.status === 'read' ? part.text : `unreadable: ${part?.reason ?? 'nothing'}`;
};

describe('XML', () => {
  it('is read as names beside their values, escapes read', async () => {
    const xml =
      '<?xml version="1.0"?><guests xmlns="urn:x"><guest id="7"><name>Anna &amp; Lars</name><card>4539&#32;1488 0343 6467</card></guest><empty/></guests>';
    expect(await textOf('guests.xml', xml)).toBe('id: 7\nname: Anna & Lars\ncard: 4539 1488 0343 6467');
  });

  it('gives the name of an element as evidence', async () => {
    const scanner = compileScanner(READY_PATTERNS);
    const text = await textOf('a.xml', '<r><iban>GB29NWBK60161331926819</iban></r>');
    expect(scanner.scan(text).findings.map(({ pattern }) => pattern)).toContain('iban');
  });

  it.each([
    ['what is not well-formed', '<a><b>card 4539 1488 0343 6467</a>'],
    ['words in angle brackets', '<not xml at all'],
    ['a mail address in front', '<ada@x.example> wrote: hello'],
  ])('leaves %s as the text it is', async (_what, text) => {
    expect(await textOf('a.xml', text)).toBe(text);
  });

  it('expands no entity of its own making (billion laughs)', async () => {
    const bomb = `<!DOCTYPE l [<!ENTITY a "${'x'.repeat(50)}"><!ENTITY b "&a;&a;&a;&a;">]><l>&b;</l>`;
    expect((await textOf('bomb.xml', bomb)).length).toBeLessThan(bomb.length + 1);
  });
});
