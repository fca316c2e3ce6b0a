/** The commands as a stranger runs them. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { ROOT } from './paths.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lantern-commands-'));
writeFileSync(join(folder, 'cards.txt'), 'card 4539 1488 0343 6467\n');
writeFileSync(join(folder, 'plain.txt'), 'nothing at all\n');
writeFileSync(join(folder, 'broken.zip'), Buffer.from('504b0304ffff', 'hex'));
afterAll(() => rmSync(folder, { recursive: true }));

const run = (script, args, options = {}) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(ROOT, 'scripts', script), ...args], {
    encoding: 'utf8',
    ...options,
  });
  return { status, stdout, stderr };
};
const inspect = (...args) => run('inspect.mjs', args);

describe('inspect', () => {
  it('prints one object a line for a folder, and exits with 3 when something is found', () => {
    const { status, stdout } = inspect('--json', folder);
    const lines = stdout
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line));
    expect(status).toBe(3);
    expect(
      lines.map(({ path, status: read, findings }) => [path.slice(folder.length + 1), read, findings.length]),
    ).toEqual([
      ['broken.zip', 'unreadable', 0],
      ['cards.txt', 'read', 1],
      ['plain.txt', 'read', 0],
    ]);
    expect(lines[0]).toMatchObject({ reason: 'corrupt', characters: 0 });
    expect(lines[1].findings[0]).toMatchObject({
      pattern: 'payment-card',
      start: 5,
      end: 24,
      text: '•••• •••• •••• 6467',
    });
    expect(lines[1].findings[0].evidence[0]).toEqual({
      code: expect.any(String),
      weight: expect.any(Number),
    });
  });

  it('exits with 0 when nothing is found, and shows values only when told to', () => {
    expect(inspect(join(folder, 'plain.txt')).status).toBe(0);
    expect(inspect('--min-certainty', '100', join(folder, 'cards.txt')).status).toBe(0);
    expect(inspect(join(folder, 'cards.txt')).stdout).not.toContain('4539');
    expect(inspect('--show-values', join(folder, 'cards.txt')).stdout).toContain('4539 1488 0343 6467');
  });

  it('reads standard input', () => {
    const { status, stdout } = run('inspect.mjs', ['--json', '-'], { input: 'IBAN GB29NWBK60161331926819' });
    expect(status).toBe(3);
    expect(JSON.parse(stdout)).toMatchObject({ path: '-', findings: [{ pattern: 'iban' }] });
  });

  it.each([
    ['nothing', []],
    ['an unknown option', ['--loud', 'x']],
    ['a certainty of 140', ['--min-certainty', '140', 'x']],
    ['a path that is not there', [join(tmpdir(), 'lantern-no-such-path')]],
  ])('exits with 2 and a sentence on standard error for %s', (_name, args) => {
    const { status, stdout, stderr } = inspect(...args);
    expect({ status, stdout }).toEqual({ status: 2, stdout: '' });
    expect(stderr).not.toMatch(/^\s+at /m);
    expect(stderr.length).toBeGreaterThan(10);
  });
});

describe('start', () => {
  it.each([
    ['an option nobody knows', ['--rest'], {}, '"--rest" is not an option.'],
    ['a port that is none', [], { PORT: 'abc' }, 'PORT is "abc", which is no port number.'],
    ['a port out of range', [], { PORT: '70000' }, 'PORT is "70000"'],
  ])('refuses %s in words', (_name, args, env, sentence) => {
    const { status, stderr } = run('start.mjs', args, {
      env: { ...process.env, LANTERN_DATA: folder, ...env },
    });
    expect(status).toBe(1);
    expect(stderr).toContain(sentence);
    expect(stderr).not.toMatch(/^\s+at /m);
  });
});

describe('test', () => {
  it('names its stages when asked for another', () => {
    const { status, stderr } = run('test.mjs', ['everything']);
    expect(status).toBe(1);
    expect(stderr).toContain('There are: lint, types, unit, server, stories.');
  });
});
