/** What the person asked of `policy`. */
export type PolicyChoices =
  | { readonly act: 'check'; readonly folder: string; readonly json: boolean }
  | { readonly act: 'test'; readonly folder: string; readonly json: boolean }
  | {
      readonly act: 'flow';
      readonly folder: string;
      readonly json: boolean;
      readonly paths: readonly string[];
    }
  | { readonly act: 'explain'; readonly folder: string; readonly json: boolean; readonly movement: string };

export type PolicyUsage =
  | { readonly status: 'understood'; readonly choices: PolicyChoices }
  | { readonly status: 'help' }
  | { readonly status: 'wrong'; readonly problem: string };

export const POLICY_HELP = `Works on a policy set as a folder of files (docs/formats/policy-set.md), without a server.

  npm run -s policy -- check FOLDER [--json]
  npm run -s policy -- test FOLDER [--json]
  npm run -s policy -- explain FOLDER MOVEMENT [--json]
  npm run -s policy -- flow FOLDER FILE ... [--json]

  check     reads every file and holds the whole set to its checks
  test      judges the movements and flows of FOLDER/tests and holds them to what they expect
  explain   says how the verdict on a movement comes about, rule by rule;
            MOVEMENT is a file of cases (.yaml), a mail (.eml), or a flow (.yaml, .json)
  flow      says whether flows and assistants may run by crossings.yaml of FOLDER,
            and what keeps them from it; each FILE is one, as JSON or YAML,
            or a workflow of an Arazzo document

Exit code: 0 all is well, 4 something must be mended or a test is not as expected,
2 wrong usage or files that cannot be read.`;

const ACTS = ['check', 'test', 'explain', 'flow'] as const;

export function readPolicyUsage(given: readonly string[]): PolicyUsage {
  if (given.includes('--help') || given.includes('-h')) return { status: 'help' };
  const json = given.includes('--json');
  const wrong = given.find((argument) => argument.startsWith('-') && argument !== '--json');
  if (wrong) return { status: 'wrong', problem: `"${wrong}" is not an option` };
  const [first = '', folder, movement, ...rest] = given.filter((argument) => !argument.startsWith('-'));
  const act = ACTS.find((known) => known === first);
  if (!act) return { status: 'wrong', problem: `Say what to do: ${ACTS.join(', ')}` };
  if (folder === undefined) return { status: 'wrong', problem: 'No folder was given' };
  if (act === 'flow') {
    if (movement === undefined) return { status: 'wrong', problem: 'No flow was given to be judged' };
    return { status: 'understood', choices: { act, folder, json, paths: [movement, ...rest] } };
  }
  if (act !== 'explain' && movement !== undefined)
    return { status: 'wrong', problem: `"${act}" takes one folder` };
  if (act === 'explain' && movement === undefined)
    return { status: 'wrong', problem: 'No movement was given to be explained' };
  if (rest.length > 0) return { status: 'wrong', problem: 'Too much was given' };
  return {
    status: 'understood',
    choices: act === 'explain' ? { act, folder, json, movement: movement ?? '' } : { act, folder, json },
  };
}
