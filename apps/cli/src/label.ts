import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { userInfo } from 'node:os';
import { type Label, printedHandling, type WholeLabelSet } from '@lantern/core/labels';
import { STARTER_LABELS } from '@lantern/demo';
import { COMPANION_ENDING } from '@lantern/files';
import { readLabelSet } from '@lantern/set-files';
import { FilePool } from './file-pool.js';
import { filesBelow, type OnProblem } from './files-below.js';
import { labelling, type LabelLine } from './label/label-path.js';
import { LABEL_HELP, type LabelChoices, readLabelUsage } from './label/usage.js';

const DONE = 0;
const WRONG = 2;
const LEFT = 4;

/** What a refusal means, and what to do. */
const REASONS: Readonly<Record<string, string>> = {
  encrypted: 'it is locked with a password; unlock it first',
  signed: 'it is signed, and a label would break the signature; label it before signing',
  corrupt: 'it cannot be read as what it says it is',
  'too-large': 'it is larger than what is opened',
  'expands-too-far': 'it expands to more than what is opened',
  'read-only': 'it is read-only',
  'took-too-long': 'reading it took too long',
  open: 'somebody has it open in a program; close it first',
};
const NOTES: Readonly<Record<string, string>> = {
  'no-place-across': 'no line across the page in this kind of file',
  'header-full': 'a print header was full and stayed as it was',
  'no-marks-here': 'this kind of file has no place for marks',
  'body-sealed': 'the body is signed or encrypted and stayed as it was',
};

function sentence(line: LabelLine): string {
  const shown = line.label
    ? `${line.label.name} (rank ${line.label.rank}), set ${line.label.how.replace('-', ' ')} by ${line.label.setBy}, ${line.label.setAt}`
    : 'no label';
  const notes = (line.notes ?? []).map((note) => `; ${NOTES[note] ?? note}`).join('');
  switch (line.status) {
    case 'shown': {
      const foreign = (line.foreign ?? []).map(
        ({ field, value, means }) =>
          `\n  of another maker: ${field} = ${value}${means ? `, which means ${means}` : ''}`,
      );
      return `${line.path}: ${shown}${foreign.join('')}`;
    }
    case 'refused':
      return `${line.path}: left as it was, because ${REASONS[line.reason ?? ''] ?? line.reason ?? ''}`;
    case 'unchanged':
      return `${line.path}: has no label`;
    default: {
      const would = line.status.startsWith('would') ? 'would be ' : '';
      const before = line.before ? ` (was ${line.before.name})` : '';
      const beside =
        line.status === 'beside' || line.status === 'would-stand-beside' ? ', in a file beside it' : '';
      const what = line.label
        ? `${would}${line.shift === 'same' ? 'labelled again' : (line.shift ?? 'set')}: ${line.label.name}`
        : `${would}without a label`;
      return `${line.path}: ${what}${before}${beside}${notes}`;
    }
  }
}

/** The labels of a file, or nothing after its faults were printed. */
async function labelsOf(file: string | null): Promise<WholeLabelSet | null> {
  if (file === null) return STARTER_LABELS;
  const reading = readLabelSet(
    await readFile(file, 'utf8'),
    {
      patterns: [],
      knowsPatterns: false,
      idFor: (kind, name) => {
        const digest = createHash('sha256').update(`${kind} ${name}`).digest('hex');
        return [
          digest.slice(0, 8),
          digest.slice(8, 12),
          digest.slice(12, 16),
          digest.slice(16, 20),
          digest.slice(20, 32),
        ].join('-');
      },
    },
    file,
  );
  if (reading.status === 'read') return reading.set;
  for (const { path, line, message } of reading.faults)
    process.stderr.write(`${path}${line === null ? '' : `:${line}`} ${message}\n`);
  return null;
}

function list(labels: readonly Label[], json: boolean): number {
  for (const { id, name, rank, family, retired, handling } of [...labels].sort(
    (left, right) => left.rank - right.rank,
  ))
    process.stdout.write(
      json
        ? `${JSON.stringify({ id, name, rank, family, retired, handling: printedHandling(handling) })}\n`
        : `${String(rank).padStart(4)}  ${name}${family === '' ? '' : ` (${family})`}${retired ? ', retired' : ''}: ${printedHandling(handling)}\n`,
    );
  return DONE;
}

/** The label of a name, capitals and the kind of apostrophe aside. */
function labelNamed(labels: readonly Label[], name: string): Label | undefined {
  const plain = (text: string): string => text.trim().toLowerCase().replace(/[’‘`]/g, "'");
  return (
    labels.find((label) => label.id === name) ?? labels.find((label) => plain(label.name) === plain(name))
  );
}

/** Listed first: companions come and go while the files are worked through. */
async function filesToLabel(given: readonly string[], problem: OnProblem): Promise<string[]> {
  const paths: string[] = [];
  for (const each of given)
    for (const path of filesBelow(each, problem)) if (!path.endsWith(COMPANION_ENDING)) paths.push(path);
  return paths;
}

async function run(choices: LabelChoices): Promise<number> {
  const set = await labelsOf(choices.set);
  if (!set) return WRONG;
  if (choices.act === 'list') return list(set.labels, choices.json);
  const label = choices.act === 'set' ? labelNamed(set.labels, choices.label) : undefined;
  if (choices.act === 'set' && (!label || label.retired)) {
    const names = set.labels.filter(({ retired }) => !retired).map(({ name }) => `"${name}"`);
    process.stderr.write(
      `There is no label "${choices.label}"${label ? ' any more' : ''}. There are: ${names.join(', ')}.\n`,
    );
    return WRONG;
  }
  const { by } = choices;
  const change = label ? labelling(label, { by, owner: choices.owner ?? by, at: Date.now() }) : null;
  const counts = new Map<string, number>();
  let failed = false;
  const problem = (path: string, message: string): void => {
    failed = true;
    process.stderr.write(`${path}: ${message}\n`);
  };
  const pool = new FilePool();
  for (const path of await filesToLabel(choices.paths, problem)) {
    const task = { path, labels: set.labels, dryRun: choices.dryRun };
    const told = await pool.label(choices.act === 'show' ? task : { ...task, change });
    if ('problem' in told) {
      problem(path, told.problem);
      continue;
    }
    const { line } = told;
    const kind = line.status === 'shown' ? (line.label?.name ?? 'no label') : line.status;
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
    process.stdout.write(`${choices.json ? JSON.stringify(line) : sentence(line)}\n`);
  }
  pool.close();
  if (!choices.json) summary(counts);
  if (failed) return WRONG;
  return counts.has('refused') && choices.act !== 'show' ? LEFT : DONE;
}

const SUMMARY: Readonly<Record<string, string>> = {
  written: 'done',
  beside: 'done in a file beside',
  unchanged: 'had no label',
  refused: 'left as they were',
  'would-write': 'would be done',
  'would-stand-beside': 'would be done in a file beside',
};

function summary(counts: ReadonlyMap<string, number>): void {
  const all = [...counts.values()].reduce((sum, count) => sum + count, 0);
  const rest = [...counts].map(([kind, count]) => `${count} ${SUMMARY[kind] ?? kind}`);
  process.stdout.write(
    `${all} ${all === 1 ? 'file' : 'files'}${rest.length > 0 ? `: ${rest.join(', ')}` : ''}\n`,
  );
}

const usage = readLabelUsage(process.argv.slice(2), userInfo().username);
if (usage.status === 'help') process.stdout.write(`${LABEL_HELP}\n`);
else if (usage.status === 'wrong') {
  process.stderr.write(`${usage.problem}.\n\n${LABEL_HELP}\n`);
  process.exitCode = WRONG;
} else
  try {
    process.exitCode = await run(usage.choices);
  } catch (error) {
    process.stderr.write(`${error instanceof Error ? error.message : 'It could not be opened'}\n`);
    process.exitCode = WRONG;
  }
