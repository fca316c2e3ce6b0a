import { buffer } from 'node:stream/consumers';
import { MAX_FILE_BYTES } from '@lantern/files/reading';
import { FilePool } from './file-pool.js';
import { type FoundFile, foundBelow } from './files-below.js';
import type { InspectTask, Told } from './file-tasks.js';
import type { InspectLine } from './inspect-path.js';
import type { SpecimenLine } from './specimens.js';
import { HELP, type InspectChoices, readUsage } from './usage.js';

const FOUND_NOTHING = 0;
const WRONG_USAGE = 2;
const FOUND_SOMETHING = 3;
const NOT_KEPT = 4;

function labelWords({ label, foreignLabels = [] }: InspectLine): string {
  const own = label ? `, labelled ${label.name}` : '';
  return own + foreignLabels.map(({ field, value }) => `, ${field} of another maker: ${value}`).join('');
}

function sentence(line: InspectLine): string {
  if (line.status === 'unreadable')
    return `${line.path}: could not be read (${line.reason ?? ''})${labelWords(line)}`;
  const rows = line.findings.map((finding) => {
    const sum = finding.evidence
      .map(({ code, weight }) => `${code} ${weight >= 0 ? '+' : ''}${weight.toFixed(1)}`)
      .join(', ');
    return `  ${finding.pattern}, certain to ${finding.certainty}: ${finding.text.replace(/\s+/g, ' ')}  (${sum})`;
  });
  const broken = (line.unreadableParts ?? []).map(
    (part) => `  ${part.path}: could not be read (${part.reason})`,
  );
  const more = line.notShown ? [`  ${line.notShown} more are not listed`] : [];
  const count = line.findings.length + (line.notShown ?? 0);
  return [`${line.path}: ${count} found${labelWords(line)}`, ...rows, ...more, ...broken].join('\n');
}

/** Files go out together up to so many, and so many bytes. */
const MOST_TOGETHER = 64;
const MOST_BYTES_TOGETHER = 1_000_000;

/** Small files together; one that is too large to be opened in one go by itself. */
function* batches(files: Iterable<FoundFile>, choices: InspectChoices): Generator<InspectTask[] | FoundFile> {
  let batch: InspectTask[] = [];
  let bytes = 0;
  for (const { path, size } of files) {
    const isLarge = size > MAX_FILE_BYTES;
    if (
      batch.length > 0 &&
      (isLarge || batch.length === MOST_TOGETHER || bytes + size > MOST_BYTES_TOGETHER)
    ) {
      yield batch;
      batch = [];
      bytes = 0;
    }
    if (isLarge) {
      yield { path, size };
      continue;
    }
    batch.push({ path, bytes: null, choices });
    bytes += size;
  }
  if (batch.length > 0) yield batch;
}

async function inspectAll(choices: InspectChoices): Promise<number> {
  const pool = new FilePool();
  let found = false;
  let failed = false;
  const problem = (path: string, message: string): void => {
    failed = true;
    process.stderr.write(`${path}: ${message}\n`);
  };
  const tell = (path: string, told: Told<InspectLine>): void => {
    if ('problem' in told) return problem(path, told.problem);
    found ||= told.line.findings.length > 0;
    process.stdout.write(`${choices.json ? JSON.stringify(told.line) : sentence(told.line)}\n`);
  };
  // Answers come in the order of the files, however long each takes.
  const waiting: { readonly paths: readonly string[]; readonly told: Promise<Told<InspectLine>[]> }[] = [];
  const answer = async (left: number): Promise<void> => {
    while (waiting.length > left) {
      const { paths, told } = waiting.shift() ?? { paths: [], told: Promise.resolve([]) };
      (await told).forEach((each, index) => tell(paths[index] ?? '', each));
    }
  };
  const handOut = async (batch: readonly InspectTask[]): Promise<void> => {
    waiting.push({ paths: batch.map(({ path }) => path), told: pool.inspectSome(batch) });
    await answer(pool.ahead);
  };
  const handOutLarge = async ({ path, size }: FoundFile): Promise<void> => {
    const told = pool.inspectLarge({ path, bytes: null, choices }, size).then((one) => [one]);
    waiting.push({ paths: [path], told });
    await answer(pool.ahead);
  };
  for (const given of choices.paths)
    if (given === '-') await handOut([{ path: given, bytes: await buffer(process.stdin), choices }]);
    else
      for (const batch of batches(foundBelow(given, problem), choices))
        if ('size' in batch) await handOutLarge(batch);
        else await handOut(batch);
  await answer(0);
  pool.close();
  if (failed) return WRONG_USAGE;
  return found ? FOUND_SOMETHING : FOUND_NOTHING;
}

function specimenSentence(line: SpecimenLine): string {
  if ('fault' in line) return `${line.specimen}: ${line.fault}`;
  const { missed, extra } = line.outcome;
  const rest = [
    ...(missed.length > 0 ? [`missed ${missed.join(', ')}`] : []),
    ...(extra.length > 0 ? [`found too much: ${extra.join(', ')}`] : []),
  ];
  return `${line.specimen}: ${line.pattern} ${line.kept ? 'kept' : rest.join('; ')}`;
}

async function judgeAll(folder: string, json: boolean): Promise<number> {
  let lines: SpecimenLine[];
  try {
    const { judgeFolder } = await import('./specimens.js');
    lines = await judgeFolder(folder);
  } catch (error) {
    process.stderr.write(`${folder}: ${error instanceof Error ? error.message : 'could not be opened'}\n`);
    return WRONG_USAGE;
  }
  for (const line of lines) process.stdout.write(`${json ? JSON.stringify(line) : specimenSentence(line)}\n`);
  const broken = lines.filter((line) => 'kept' in line && !line.kept).length;
  if (!json) process.stdout.write(`${lines.length} judged, ${broken} not kept\n`);
  if (lines.length === 0 || lines.some((line) => 'fault' in line)) return WRONG_USAGE;
  return broken > 0 ? NOT_KEPT : FOUND_NOTHING;
}

const usage = readUsage(process.argv.slice(2));
if (usage.status === 'understood') {
  const { specimens } = usage.choices;
  process.exitCode =
    specimens === null ? await inspectAll(usage.choices) : await judgeAll(specimens, usage.choices.json);
} else if (usage.status === 'help') process.stdout.write(`${HELP}\n`);
else {
  process.stderr.write(`${usage.problem}.\n\n${HELP}\n`);
  process.exitCode = WRONG_USAGE;
}
