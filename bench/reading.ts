/**
 * How fast files are read, per format, beside a plain baseline in the same run that cannot get slower with us: unzipping
 * and one pass of a SAX parser for office files, the PDF library's bare text extraction, one pass of an HTML parser,
 * reading and decoding for small text files. All ratios are our time by the baseline's. The command is started once for
 * its time to the first answer.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readFile } from '@lantern/files';
import { docxFile, xlsxFile } from '@lantern/testkit';
import { unzipSync } from 'fflate';
import { Parser } from 'htmlparser2';
import { PDFDocument, StandardFonts } from 'pdf-lib';
import { SaxesParser } from 'saxes';

const ROUNDS = 7;
const SMALL_FILES = 5_000;
const COMMAND = new URL('../../apps/cli/dist/inspect.js', import.meta.url).pathname;

const sentence = (index: number): string =>
  `Booking ${index} of the ferry on deck ${index % 9}: please confirm to crew${index}@depot.example before noon, quay ${index % 40}.`;
const sentences = (count: number): string[] =>
  Array.from({ length: count }, (_unused, index) => sentence(index));

async function pdfFile(pages: number): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let page = 0; page < pages; page += 1) {
    const sheet = document.addPage();
    sentences(40).forEach((text, line) => sheet.drawText(text, { x: 30, y: 800 - line * 18, size: 9, font }));
  }
  return document.save();
}

function saxPass(bytes: Uint8Array): number {
  let length = 0;
  for (const [name, content] of Object.entries(unzipSync(bytes))) {
    if (!name.endsWith('.xml')) continue;
    const parser = new SaxesParser();
    parser.on('text', (text) => (length += text.length));
    parser.write(new TextDecoder().decode(content)).close();
  }
  return length;
}

async function bareText(bytes: Uint8Array): Promise<number> {
  const { getDocument, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const task = getDocument({ data: new Uint8Array(bytes), verbosity: VerbosityLevel.ERRORS });
  const document = await task.promise;
  let length = 0;
  for (let page = 1; page <= document.numPages; page += 1)
    length += (await (await document.getPage(page)).getTextContent()).items.length;
  await task.destroy();
  return length;
}

function htmlPass(bytes: Uint8Array): number {
  let length = 0;
  const parser = new Parser({ ontext: (text) => (length += text.length) });
  parser.end(new TextDecoder().decode(bytes));
  return length;
}

interface Format {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly baseline: (bytes: Uint8Array) => unknown;
}

const rows = [
  ['Guest', 'Booking', 'Note'],
  ...sentences(4_000).map((text, index) => [`Guest ${index}`, String(index), text]),
];
const html = `<html><body><table>${sentences(3_000)
  .map((text, index) => `<tr><td>${index}</td><td>${text}</td></tr>`)
  .join('')}</table></body></html>`;
const formats: readonly Format[] = [
  { name: 'docx', bytes: await docxFile({ paragraphs: sentences(3_000) }), baseline: saxPass },
  { name: 'xlsx', bytes: await xlsxFile('Guests', rows), baseline: saxPass },
  { name: 'pdf', bytes: await pdfFile(20), baseline: bareText },
  { name: 'html', bytes: Buffer.from(html), baseline: htmlPass },
];

const median = (numbers: readonly number[]): number =>
  [...numbers].sort((left, right) => left - right)[Math.floor(numbers.length / 2)] ?? 0;

async function timed(work: () => unknown): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

const result: Record<string, number> = {};
for (const { name, bytes, baseline } of formats) {
  const ours: number[] = [];
  const plain: number[] = [];
  // Alternating, so that whatever else the machine does falls on both.
  for (let round = 0; round <= ROUNDS; round += 1) {
    const own = await timed(() => readFile({ name: `a.${name}`, bytes }));
    const bare = await timed(() => baseline(bytes));
    if (round === 0) continue;
    ours.push(own);
    plain.push(bare);
  }
  const [own, bare] = [median(ours), median(plain)];
  result[name] = Math.round((own / bare) * 100) / 100;
  const rate = (bytes.length / 1e6 / own) * 1000;
  console.log(
    `${name.padEnd(6)} ${(1000 / own).toFixed(1).padStart(8)} files/s  ${rate.toFixed(1).padStart(7)} MB/s  ${own.toFixed(1)} ms, baseline ${bare.toFixed(1)} ms, ratio ${result[name]}`,
  );
}

const folder = mkdtempSync(join(tmpdir(), 'lantern-reading-'));
try {
  const files = join(folder, 'files');
  mkdirSync(files);
  for (let index = 0; index < SMALL_FILES; index += 1)
    writeFileSync(
      join(files, `${index}.txt`),
      `Notes of day ${index}.\n${sentence(index)}\n${'The quay was quiet and the pilot came aboard on time. '.repeat(4 + (index % 7))}`,
    );
  writeFileSync(join(folder, 'one.txt'), sentence(1));
  const command = (path: string): void => {
    const { status } = spawnSync(process.execPath, [COMMAND, '--json', path], { maxBuffer: 1e9 });
    if (status !== 0 && status !== 3) throw new Error(`The command ended with ${status}`);
  };
  const read = (): number => {
    let length = 0;
    for (const name of readdirSync(files))
      length += new TextDecoder().decode(readFileSync(join(files, name))).length;
    return length;
  };
  const starts: number[] = [];
  const alls: number[] = [];
  const reads: number[] = [];
  for (let round = 0; round < 5; round += 1) {
    starts.push(await timed(() => command(join(folder, 'one.txt'))));
    alls.push(await timed(() => command(files)));
    reads.push(await timed(read));
  }
  result['startSeconds'] = Math.round(median(starts)) / 1000;
  // What starting takes is told apart.
  const work = median(alls) - median(starts);
  result['smallFiles'] = Math.round((work / median(reads)) * 100) / 100;
  console.log(
    `small  ${((SMALL_FILES / work) * 1000).toFixed(0).padStart(8)} files/s  baseline ${((SMALL_FILES / median(reads)) * 1000).toFixed(0)} files/s, ratio ${result['smallFiles']}; ready in ${result['startSeconds']} s`,
  );
} finally {
  rmSync(folder, { recursive: true, force: true });
}
const { docx, xlsx, pdf, html: page, smallFiles, startSeconds } = result;
console.log(JSON.stringify({ bench: 'reading', docx, xlsx, pdf, html: page, smallFiles, startSeconds }));
