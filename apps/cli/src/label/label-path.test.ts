import {
  chmodSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { STARTER_LABELS } from '@lantern/demo';
import { docxFile } from '@lantern/testkit';
import { changeLabel, labelling, showLabel } from './label-path.js';
import { readLabelUsage } from './usage.js';

const labels = STARTER_LABELS.labels;
const named = (name: string) => labels.find((label) => label.name === name)!;
const change = (name: string) =>
  labelling(named(name), { by: 'ines@merrowstrait.example', owner: 'ada@merrowstrait.example', at: 0 });

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-label-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('labels on files of a folder', () => {
  it('writes into a document, tells raised from lowered, and takes it off', async () => {
    const path = join(folder, 'a.docx');
    writeFileSync(path, await docxFile({ paragraphs: ['x'] }));
    expect(await changeLabel(path, change('Bridge only'), false)).toMatchObject({
      status: 'written',
      shift: 'set',
      before: null,
    });
    expect((await changeLabel(path, change('Open water'), false)).shift).toBe('lowered');
    expect((await changeLabel(path, change('Bridge only'), false)).shift).toBe('raised');
    expect((await showLabel(path, labels)).label?.name).toBe('Bridge only');
    expect((await changeLabel(path, null, false)).shift).toBe('removed');
    expect((await changeLabel(path, null, false)).status).toBe('unchanged');
    expect(readdirSync(folder)).toEqual(['a.docx']);
  });

  it('changes nothing in a dry run', async () => {
    const path = join(folder, 'a.docx');
    const bytes = await docxFile({ paragraphs: ['x'] });
    writeFileSync(path, bytes);
    expect(await changeLabel(path, change('Bridge only'), true)).toMatchObject({
      status: 'would-write',
      shift: 'set',
    });
    expect(Buffer.compare(readFileSync(path), bytes)).toBe(0);
  });

  it('keeps the label of what has no room for it beside it', async () => {
    const path = join(folder, 'notes.txt');
    writeFileSync(path, 'words');
    expect((await changeLabel(path, change('Passenger care'), false)).status).toBe('beside');
    expect(readFileSync(path, 'utf8')).toBe('words');
    expect((await showLabel(path, labels)).label).toMatchObject({ name: 'Passenger care', rank: 500 });
    expect((await changeLabel(path, null, false)).shift).toBe('removed');
    expect(existsSync(`${path}.label.json`)).toBe(false);
  });

  it('leaves read-only and locked files as they are and says why', async () => {
    const path = join(folder, 'a.docx');
    writeFileSync(path, await docxFile({ paragraphs: ['x'] }));
    chmodSync(path, 0o444);
    expect(await changeLabel(path, change('Open water'), false)).toMatchObject({
      status: 'refused',
      reason: 'read-only',
      label: null,
    });
    const locked = join(folder, 'l.docx');
    writeFileSync(
      locked,
      Buffer.concat([Buffer.from('d0cf11e0a1b11ae1', 'hex'), Buffer.from('EncryptedPackage', 'utf16le')]),
    );
    expect(await changeLabel(locked, change('Open water'), false)).toMatchObject({
      status: 'refused',
      reason: 'encrypted',
    });
  });

  it('leaves a file that somebody has open in a program', async () => {
    const path = join(folder, 'plan.docx');
    writeFileSync(path, await docxFile({ paragraphs: ['x'] }));
    writeFileSync(join(folder, '.~lock.plan.docx#'), ',ada,');
    expect(await changeLabel(path, change('Open water'), false)).toMatchObject({
      status: 'refused',
      reason: 'open',
    });
    rmSync(join(folder, '.~lock.plan.docx#'));
    expect((await changeLabel(path, change('Open water'), false)).status).toBe('written');
  });

  it('keeps who may read a file as it was', async () => {
    const path = join(folder, 'a.docx');
    writeFileSync(path, await docxFile({ paragraphs: ['x'] }), { mode: 0o600 });
    await changeLabel(path, change('Open water'), false);
    expect(statSync(path).mode & 0o777).toBe(0o600);
  });
});

describe('what is asked of label', () => {
  const read = (...given: string[]) => readLabelUsage(given, 'root');

  it.each([
    ['nothing', [], 'Say what to do'],
    ['an act nobody knows', ['paint', 'x'], 'Say what to do'],
    ['no label', ['set'], 'No label was named'],
    ['no path', ['set', 'Quay'], 'No path was given'],
    ['no path to show', ['show'], 'No path was given'],
    ['a path to list', ['list', 'x'], 'takes no path'],
    ['an unknown option', ['show', '--loud', 'x'], '"--loud" is not an option'],
    ['a value that is missing', ['list', '--set'], '--set takes a value'],
  ])('refuses %s in words', (_what, given, words) => {
    const usage = read(...given);
    expect(usage.status === 'wrong' && usage.problem).toContain(words);
  });

  it('takes options anywhere and paths behind --', () => {
    expect(read('set', '--json', 'Quay', '--by=ada', 'a', '--dry-run', '--', '--b')).toEqual({
      status: 'understood',
      choices: {
        act: 'set',
        label: 'Quay',
        paths: ['a', '--b'],
        set: null,
        by: 'ada',
        owner: null,
        json: true,
        dryRun: true,
      },
    });
  });
});
