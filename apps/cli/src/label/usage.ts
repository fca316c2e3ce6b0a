/** What the person asked of `label`. */
export interface LabelChoices {
  readonly act: 'list' | 'set' | 'remove' | 'show';
  /** Name of the label; empty where none is needed. */
  readonly label: string;
  readonly paths: readonly string[];
  /** File of a set of labels; null for the labels it comes with. */
  readonly set: string | null;
  /** Who sets the label. */
  readonly by: string;
  readonly owner: string | null;
  readonly json: boolean;
  readonly dryRun: boolean;
}

export type LabelUsage =
  | { readonly status: 'understood'; readonly choices: LabelChoices }
  | { readonly status: 'help' }
  | { readonly status: 'wrong'; readonly problem: string };

export const LABEL_HELP = `Writes labels into files and folders, reads them and takes them off, without a server
(docs/formats/file-labels.md).

  npm run -s label -- list [--set FILE] [--json]
  npm run -s label -- set NAME PATH… [--set FILE] [--by WHO] [--owner WHO] [--dry-run] [--json]
  npm run -s label -- remove PATH… [--dry-run] [--json]
  npm run -s label -- show PATH… [--set FILE] [--json]

  list        the labels there are, least sensitive first
  set         labels files with the label of that name, and prints its marks into them
  remove      takes label and marks off
  show        what files carry, and what looks like a label of another maker
  --set FILE  labels of a set (docs/formats/labels.md); else those it comes with
  --by WHO    who sets the label; else the account that runs the command
  --owner WHO who owns the files; else whoever sets the label
  --dry-run   says what would happen and changes nothing
  --json      one object a line
  PATH        a file, or a folder with all below it

Exit code: 0 all was done, 4 a file was left as it was for a reason, 2 wrong usage or a path that
cannot be opened.`;

const ACTS = ['list', 'set', 'remove', 'show'] as const;
const VALUES = ['--set', '--by', '--owner'] as const;

/** Reads the command's arguments; everything behind `--` is a path. */
export function readLabelUsage(given: readonly string[], account: string): LabelUsage {
  const values = new Map<string, string>();
  const plain: string[] = [];
  let json = false;
  let dryRun = false;
  for (let index = 0; index < given.length; index += 1) {
    const argument = given[index] ?? '';
    const [name = '', inline] = argument.split(/=(.*)/s);
    if (argument === '--') {
      plain.push(...given.slice(index + 1));
      break;
    } else if (argument === '--help' || argument === '-h') return { status: 'help' };
    else if (argument === '--json') json = true;
    else if (argument === '--dry-run') dryRun = true;
    else if (VALUES.some((known) => known === name)) {
      const value = inline ?? given[(index += 1)];
      if (value === undefined || value === '') return { status: 'wrong', problem: `${name} takes a value` };
      values.set(name, value);
    } else if (argument.startsWith('-'))
      return { status: 'wrong', problem: `"${argument}" is not an option` };
    else plain.push(argument);
  }
  const [first = '', ...rest] = plain;
  const act = ACTS.find((known) => known === first);
  if (!act) return { status: 'wrong', problem: `Say what to do: ${ACTS.join(', ')}` };
  const label = act === 'set' ? (rest[0] ?? '') : '';
  const paths = act === 'set' ? rest.slice(1) : rest;
  if (act === 'set' && label === '') return { status: 'wrong', problem: 'No label was named' };
  if (act === 'list' && paths.length > 0) return { status: 'wrong', problem: '"list" takes no path' };
  if (act !== 'list' && paths.length === 0) return { status: 'wrong', problem: 'No path was given' };
  const by = values.get('--by') ?? account;
  return {
    status: 'understood',
    choices: {
      act,
      label,
      paths,
      set: values.get('--set') ?? null,
      by,
      owner: values.get('--owner') ?? null,
      json,
      dryRun,
    },
  };
}
