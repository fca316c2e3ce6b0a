import { fileName } from './uploads.js';

describe('fileName', () => {
  it.each([
    ['plain', 'a.txt', 'a.txt'],
    [
      'UTF-8 that was read as Latin-1',
      Buffer.from('Überfahrt 日本.docx').toString('latin1'),
      'Überfahrt 日本.docx',
    ],
    ['Latin-1 that is no UTF-8', 'Gr\xfc\xdfe.txt', 'Grüße.txt'],
    ['a name without end', 'x'.repeat(400), 'x'.repeat(255)],
  ])('reads %s', (_name, originalname, expected) => expect(fileName({ originalname })).toBe(expected));
});
