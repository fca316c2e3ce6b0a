import JSZip from 'jszip';
import { packed, packedPictures, pictureType, sizeOf, unpacked, unpackedPictures } from './packing.js';

const bytes = (text: string) => Buffer.from(text);

describe('packed', () => {
  it('keeps texts and files byte by byte, as another reader of ZIP archives finds them', async () => {
    const content = {
      texts: [
        { role: 'subject', text: 'Überweisung' },
        { role: 'body', text: '' },
      ],
      files: [{ name: 'list.csv', bytes: bytes('a,b\r\n1,2') }],
    };
    const archive = await JSZip.loadAsync(packed(content));
    expect(Object.keys(archive.files)).toEqual(['text 1 subject.txt', 'file 1 list.csv']);
    expect(await archive.file('text 1 subject.txt')?.async('string')).toBe('Überweisung');
    expect(await archive.file('file 1 list.csv')?.async('string')).toBe('a,b\r\n1,2');
    expect(sizeOf(content)).toEqual({ bytes: 20, items: 2 });
  });

  it('keeps a mail whole and alone', async () => {
    const content = {
      texts: [{ role: 'body', text: 'read' }],
      files: [],
      mail: bytes('Subject: x\r\n\r\nread'),
    };
    expect(Object.keys((await JSZip.loadAsync(packed(content))).files)).toEqual(['mail.eml']);
    expect(sizeOf(content)).toEqual({ bytes: 18, items: 1 });
  });

  it.each([
    ['../../etc/passwd', 'file 1 _.._etc_passwd'],
    ['C:\\Windows\\a.dll', 'file 1 C__Windows_a.dll'],
    ['report\u202Efdp.exe', 'file 1 report_fdp.exe'],
    ['...', 'file 1 file'],
    [`${'x'.repeat(300)}.xlsx`, `file 1 ${'x'.repeat(115)}.xlsx`],
  ])('leaves %s no way out of its folder', (name, expected) => {
    const archive = packed({ texts: [], files: [{ name, bytes: bytes('x') }] });
    expect(Buffer.from(archive).toString('latin1')).toContain(expected);
    expect(Buffer.from(archive).toString('latin1')).not.toContain('../');
  });

  it('keeps two files of one name apart', async () => {
    const two = ['one', 'two'].map((text) => ({ name: 'a.txt', bytes: bytes(text) }));
    expect(Object.keys((await JSZip.loadAsync(packed({ texts: [], files: two }))).files)).toHaveLength(2);
  });
});

describe('unpacked', () => {
  it('gives back what was packed', () => {
    const content = {
      texts: [{ role: 'subject', text: 'Größe' }],
      files: [
        { name: 'text 1 body.txt', bytes: bytes('a file of that name') },
        { name: 'b.bin', bytes: Uint8Array.of(0, 255, 1) },
      ],
    };
    const { texts, files, mail } = unpacked(packed(content));
    expect(texts).toEqual(content.texts);
    expect(files.map(({ name, bytes: each }) => [name, [...each]])).toEqual(
      content.files.map(({ name, bytes: each }) => [name, [...each]]),
    );
    expect(mail).toBeUndefined();
    const eml = { texts: [], files: [], mail: bytes('Subject: x') };
    expect(Buffer.from(unpacked(packed(eml)).mail ?? []).toString()).toBe('Subject: x');
  });
});

describe('pictures', () => {
  it('come back in their order', () => {
    const pictures = Array.from({ length: 12 }, (_unused, at) => ({
      at: new Date(),
      bytes: bytes(`p${at}`),
    }));
    expect(
      unpackedPictures(packedPictures(pictures))
        .map(String)
        .map((each) => each.length),
    ).toHaveLength(12);
    expect(Buffer.from(unpackedPictures(packedPictures(pictures))[10] ?? []).toString()).toBe('p10');
  });

  it.each([
    [[0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a], 'image/png'],
    [[0xff, 0xd8, 0xff, 0xe0], 'image/jpeg'],
    [[0x3c, 0x73, 0x76, 0x67], null],
    [[], null],
  ])('are told by their first bytes %j', (first, type) =>
    expect(pictureType(Uint8Array.from(first))).toBe(type),
  );
});
