/** What the person asked of `inspect`. */
export interface InspectChoices {
  readonly json: boolean;
  readonly showValues: boolean;
  /** 0 to 100; findings below are left out. */
  readonly minCertainty: number;
  /** Files and folders; `-` is standard input. */
  readonly paths: readonly string[];
}

export type Usage =
  | { readonly status: 'understood'; readonly choices: InspectChoices }
  | { readonly status: 'help' }
  | { readonly status: 'wrong'; readonly problem: string };

/** Below this a finding is more likely noise than not. */
export const DEFAULT_MIN_CERTAINTY = 50;

export const HELP = `Inspects files, folders or standard input with the ready patterns.

  npm run -s inspect -- [--json] [--show-values] [--min-certainty N] PATH…

  --json             one object a line instead of sentences
  --show-values      show found values whole instead of masked
  --min-certainty N  leave out findings below N (0 to 100; ${DEFAULT_MIN_CERTAINTY} if not given)
  PATH               a file, a folder with all below it, or - for standard input

Exit code: 0 nothing found, 3 something found, 2 wrong usage or a path that cannot be opened.`;

/** Reads the command's arguments; everything behind \`--\` is a path. */
export function readUsage(given: readonly string[]): Usage {
  let json = false;
  let showValues = false;
  let minCertainty = DEFAULT_MIN_CERTAINTY;
  const paths: string[] = [];
  let onlyPaths = false;
  for (let index = 0; index < given.length; index += 1) {
    const argument = given[index] ?? '';
    if (onlyPaths || !argument.startsWith('-') || argument === '-') paths.push(argument);
    else if (argument === '--') onlyPaths = true;
    else if (argument === '--help' || argument === '-h') return { status: 'help' };
    else if (argument === '--json') json = true;
    else if (argument === '--show-values') showValues = true;
    else if (argument === '--min-certainty' || argument.startsWith('--min-certainty=')) {
      const value = argument.includes('=') ? argument.slice(argument.indexOf('=') + 1) : given[(index += 1)];
      minCertainty = value === undefined || value.trim() === '' ? Number.NaN : Number(value);
      if (!(minCertainty >= 0 && minCertainty <= 100)) {
        return {
          status: 'wrong',
          problem: `--min-certainty takes a number from 0 to 100, not "${value ?? ''}"`,
        };
      }
    } else return { status: 'wrong', problem: `"${argument}" is not an option` };
  }
  if (paths.length === 0) return { status: 'wrong', problem: 'No path was given' };
  return { status: 'understood', choices: { json, showValues, minCertainty, paths } };
}
