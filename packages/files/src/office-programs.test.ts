/** Files that an office program of Debian writes, read with everything in its place. Where it is not installed: skipped. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { docxFile, xlsxFile } from '@lantern/testkit';
import { readFile } from './read-file.js';

const SOFFICE = '/usr/bin/soffice';
const scanner = compileScanner(READY_PATTERNS);
const CARDS = ['4539 1488 0343 6467', '6011 0009 9013 9424'];

/** A file as the program converts it. */
function converted(name: string, bytes: Uint8Array, to: string): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-office-'));
  try {
    writeFileSync(join(folder, name), bytes);
    const profile = `-env:UserInstallation=file://${folder}/profile`;
    spawnSync(SOFFICE, [profile, '--headless', '--convert-to', to, '--outdir', folder, join(folder, name)], {
      timeout: 90_000,
    });
    return readFileSync(join(folder, name.replace(/\.\w+$/, `.${to.split(':')[0]}`)));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function found(name: string, bytes: Uint8Array): Promise<{ cards: string[]; places: string[] }> {
  const parts = await readFile({ name, bytes });
  const read = parts.flatMap((part) => (part.status === 'read' ? [part] : []));
  return {
    cards: read.flatMap(({ text }) =>
      scanner
        .scan(text)
        .findings.filter(({ pattern, certainty }) => pattern === 'payment-card' && certainty >= 80)
        .map(({ start, end }) => text.slice(start, end).replace(/\s+/g, ' ')),
    ),
    places: read.map(({ path }) => path.slice(1).join(' › ')),
  };
}

(existsSync(SOFFICE) ? describe : describe.skip)('files of an office program', () => {
  const text = () =>
    docxFile({
      paragraphs: ['Refunds of the week', `Card ${CARDS[0]}`],
      table: [['Card number'], [CARDS[1] ?? '']],
      header: 'Merrow Strait Lines',
    });
  const sheet = () =>
    xlsxFile('Refunds', [
      ['Passenger', 'Card number'],
      ['Anna', CARDS[0] ?? ''],
      ['Lars', CARDS[1] ?? ''],
    ]);

  it.each(['docx', 'odt', 'rtf', 'pdf', 'html', 'txt:Text'])('a text saved as %s', async (to) => {
    const name = `list.${to.split(':')[0]}`;
    expect((await found(name, converted('list.docx', await text(), to))).cards.sort()).toEqual(
      [...CARDS].sort(),
    );
  });

  it.each(['xlsx', 'ods', 'csv'])('a sheet saved as %s', async (to) => {
    expect((await found(`list.${to}`, converted('list.xlsx', await sheet(), to))).cards.sort()).toEqual(
      [...CARDS].sort(),
    );
  });

  it('a sheet saved as a PDF, a line a row', async () => {
    const parts = await readFile({ name: 'list.pdf', bytes: converted('list.xlsx', await sheet(), 'pdf') });
    const [page] = parts.flatMap((part) => (part.status === 'read' ? [part.text] : []));
    expect(page?.split('\n').slice(1)).toEqual([`Anna\t${CARDS[0] ?? ''}`, `Lars\t${CARDS[1] ?? ''}`]);
  });

  it('an OpenDocument text with its header where it was', async () => {
    const { places } = await found('list.odt', converted('list.docx', await text(), 'odt'));
    expect(places).toEqual(expect.arrayContaining(['text', 'header']));
  });

  it('an old binary document is told apart and not taken for text', async () => {
    const [part] = await readFile({ name: 'old.doc', bytes: converted('list.docx', await text(), 'doc') });
    expect(part).toMatchObject({ status: 'unreadable', reason: 'unsupported' });
  });
});
