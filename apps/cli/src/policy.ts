import { join } from 'node:path';
import type { AnyAutomation } from '@lantern/core/automations';
import { compileScanner, patternSet, type Scanner } from '@lantern/core/detection';
import { gravityOf, setProblems } from '@lantern/core/policy';
import { filesBelow } from './files-below.js';
import { CaseFault, casesIn } from './policy/cases.js';
import { flowCasesIn, flowOutcome } from './policy/flow-cases.js';
import { explained } from './policy/explain.js';
import { automationIn, isAutomationFile, problemsOfCrossings, verdictOnFlow } from './policy/flows.js';
import { patternsOf, type ReadFolder, readFolder } from './policy/folder.js';
import { type CaseOutcome, decidedAs, outcomeOf, verdictOf } from './policy/judge-case.js';
import { POLICY_HELP, type PolicyChoices, readPolicyUsage } from './policy/usage.js';

const WELL = 0;
const WRONG = 2;
const NOT_KEPT = 4;

const print = (json: boolean, value: object, sentence: string): void => {
  process.stdout.write(`${json ? JSON.stringify(value) : sentence}\n`);
};

/** The set of a folder, or nothing after its faults were printed. */
async function open(folder: string, json: boolean): Promise<ReadFolder | null> {
  const reading = await readFolder(folder);
  if (reading.status === 'read') return reading;
  for (const fault of reading.faults)
    print(json, { fault }, `${fault.path}${fault.line === null ? '' : `:${fault.line}`} ${fault.message}`);
  return null;
}

function check(reading: ReadFolder, json: boolean): number {
  const problems = setProblems(reading.set, {
    patterns: patternsOf(reading),
    withoutSpecimens: new Set(),
    people: null,
    at: Date.now(),
  });
  let must = 0;
  for (const { policy, problem } of problems) {
    const gravity = gravityOf(problem.code);
    if (gravity === 'must') must += 1;
    const place = policy === null ? null : reading.placeOf(policy, problem.path);
    const where = place ? `${place.path}:${place.line}` : 'the whole set';
    const value = problem.value === undefined ? '' : ` (${problem.value})`;
    print(
      json,
      { gravity, ...problem, place },
      `${where} ${gravity === 'must' ? 'must be mended' : 'worth a look'}: ${problem.code}${value}`,
    );
  }
  const crossings = problemsOfCrossings(reading.crossings, reading.labels);
  for (const { set, problem } of crossings) {
    if (problem.gravity === 'must') must += 1;
    print(
      json,
      { set, ...problem },
      `crossings.yaml, "${set}" ${problem.gravity === 'must' ? 'must be mended' : 'worth a look'}: ${problem.code} (${problem.value})`,
    );
  }
  const rules = reading.set.policies.reduce((sum, { rules: all }) => sum + all.length, 0);
  if (!json)
    process.stdout.write(
      `${reading.set.policies.length} policies, ${rules} rules: ${must} to mend, ${problems.length + crossings.length - must} worth a look\n`,
    );
  return must > 0 ? NOT_KEPT : WELL;
}

const scannerOf = ({ set }: ReadFolder): Scanner => compileScanner(patternSet(set.patterns));

async function test(folder: string, reading: ReadFolder, json: boolean): Promise<number> {
  const scanner = scannerOf(reading);
  let all = 0;
  let broken = 0;
  const told = (outcome: CaseOutcome | ReturnType<typeof flowOutcome>): void => {
    all += 1;
    if (!outcome.kept) broken += 1;
    const words = outcome.kept
      ? 'as expected'
      : `expected ${JSON.stringify(outcome.expected)}, decided ${JSON.stringify(outcome.decided)}`;
    print(json, outcome, `${outcome.path}:${outcome.line} ${outcome.name}: ${words}`);
  };
  for (const path of filesBelow(join(folder, 'tests'))) {
    if (!/\.ya?ml$/.test(path) || isAutomationFile(path)) continue;
    for (const given of flowCasesIn(path, reading.crossings.services)) {
      const { verdict } = verdictOnFlow(given.automation, reading.crossings, reading.labels);
      told(flowOutcome(given, verdict));
    }
    for (const given of await casesIn(path)) {
      told(outcomeOf(given, await verdictOf(given, reading, scanner), reading.set));
    }
  }
  if (!json) process.stdout.write(`${all} cases, ${broken} not as expected\n`);
  if (all === 0) throw new CaseFault(`${join(folder, 'tests')} holds no cases`);
  return broken > 0 ? NOT_KEPT : WELL;
}

async function explain(movement: string, reading: ReadFolder, json: boolean): Promise<number> {
  if (isAutomationFile(movement)) {
    explainFlow(automationIn(movement, reading.crossings.services), reading, json);
    return WELL;
  }
  for (const { automation } of flowCasesIn(movement, reading.crossings.services))
    explainFlow(automation, reading, json);
  const scanner = scannerOf(reading);
  for (const given of await casesIn(movement)) {
    const verdict = await verdictOf(given, reading, scanner);
    const decided = decidedAs(verdict, reading.set);
    print(
      json,
      { case: given.name, decided, trace: verdict.trace },
      [given.name, ...explained(verdict, reading.set)].join('\n'),
    );
  }
  return WELL;
}

/** How the verdict on a flow comes about: what each set had to say, and what keeps it from running. */
function explainFlow(automation: AnyAutomation, reading: ReadFolder, json: boolean): void {
  const { verdict, sentences } = verdictOnFlow(automation, reading.crossings, reading.labels);
  const sets = new Map(reading.crossings.sets.map(({ id, name }) => [id, name]));
  const traces = verdict.trace.map(
    ({ set, binds, breaches }) => `  ${sets.get(set) ?? set}: ${BINDS[binds]}, ${breaches} in breach`,
  );
  print(
    json,
    { case: automation.name, ...verdict, sentences },
    [
      `${automation.name}: ${verdict.runs ? 'may run' : 'may not run'}`,
      ...traces,
      ...sentences.map((each) => `  ${each}`),
    ].join('\n'),
  );
}

const BINDS = {
  yes: 'holds here',
  'other-workspace': 'is about other workspaces',
  older: 'binds newer ones only',
} as const;

/** Judges flows and assistants by the sets of the folder. */
function flow(paths: readonly string[], reading: ReadFolder, json: boolean): number {
  let stopped = 0;
  for (const path of paths) {
    const automation = automationIn(path, reading.crossings.services);
    const { verdict, sentences } = verdictOnFlow(automation, reading.crossings, reading.labels);
    if (!verdict.runs) stopped += 1;
    print(
      json,
      { path, name: automation.name, ...verdict, sentences },
      [
        `${path} "${automation.name}" ${verdict.runs ? 'may run' : 'may not run'}`,
        ...sentences.map((each) => `  ${each}`),
      ].join('\n'),
    );
  }
  return stopped > 0 ? NOT_KEPT : WELL;
}

async function run(choices: PolicyChoices): Promise<number> {
  const { folder, json } = choices;
  const reading = await open(folder, json);
  if (!reading) return WRONG;
  switch (choices.act) {
    case 'check':
      return check(reading, json);
    case 'test':
      return test(folder, reading, json);
    case 'flow':
      return flow(choices.paths, reading, json);
    case 'explain':
      return explain(choices.movement, reading, json);
  }
}

const usage = readPolicyUsage(process.argv.slice(2));
if (usage.status === 'help') process.stdout.write(`${POLICY_HELP}\n`);
else if (usage.status === 'wrong') {
  process.stderr.write(`${usage.problem}.\n\n${POLICY_HELP}\n`);
  process.exitCode = WRONG;
} else {
  try {
    process.exitCode = await run(usage.choices);
  } catch (error) {
    process.stderr.write(`${error instanceof Error ? error.message : 'It could not be opened'}\n`);
    process.exitCode = WRONG;
  }
}
