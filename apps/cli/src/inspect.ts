import { FilePool } from './file-pool.js';
import { bytesOf, filesBelow, type InspectLine } from './inspect-path.js';
import { judgeFolder, type SpecimenLine } from './specimens.js';
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
  return [`${line.path}: ${line.findings.length} found${labelWords(line)}`, ...rows, ...broken].join('\n');
}

async function inspectAll(choices: InspectChoices): Promise<number> {
  const pool = new FilePool();
  let found = false;
  let failed = false;
  const problem = (path: string, message: string): void => {
    failed = true;
    process.stderr.write(`${path}: ${message}\n`);
  };
  const inspectOne = async (path: string, bytes: Uint8Array | null): Promise<void> => {
    const told = await pool.inspect({ path, bytes, choices });
    if ('problem' in told) return problem(path, told.problem);
    found ||= told.line.findings.length > 0;
    process.stdout.write(`${choices.json ? JSON.stringify(told.line) : sentence(told.line)}\n`);
  };
  for (const given of choices.paths)
    if (given === '-') await inspectOne(given, await bytesOf(given));
    else for await (const path of filesBelow(given, problem)) await inspectOne(path, null);
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
