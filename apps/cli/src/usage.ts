/** What the person asked of `inspect`. */
export interface InspectChoices {
  readonly json: boolean;
  readonly showValues: boolean;
  /** 0 to 100; findings below are left out. */
  readonly minCertainty: number;
  /** A folder of specimens to be judged in place of an inspection; null for none. */
  readonly specimens: string | null;
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
  npm run -s inspect -- [--json] --specimens FOLDER

  --json             one object a line instead of sentences
  --show-values      show found values whole instead of masked
  --min-certainty N  leave out findings below N (0 to 100; ${DEFAULT_MIN_CERTAINTY} if not given)
  --specimens FOLDER hold the patterns to the specimens of a folder
                     (docs/formats/specimens.md)
  PATH               a file, a folder with all below it, or - for standard input

Exit code: 0 nothing found or every specimen kept, 3 something found, 4 a specimen not kept,
2 wrong usage or a path that cannot be opened.`;

/** Reads the command's arguments; everything behind \`--\` is a path. */
export function readUsage(given: readonly string[]): Usage {
  let json = false;
  let showValues = false;
  let minCertainty = DEFAULT_MIN_CERTAINTY;
  const paths: string[] = [];
  let specimens: string | null = null;
  let onlyPaths = false;
  for (let index = 0; index < given.length; index += 1) {
    const argument = given[index] ?? '';
    if (onlyPaths || !argument.startsWith('-') || argument === '-') paths.push(argument);
    else if (argument === '--') onlyPaths = true;
    else if (argument === '--help' || argument === '-h') return { status: 'help' };
    else if (argument === '--json') json = true;
    else if (argument === '--show-values') showValues = true;
    else if (argument === '--specimens') {
      specimens = given[(index += 1)] ?? '';
      if (specimens === '') return { status: 'wrong', problem: '--specimens takes a folder' };
    } else if (argument === '--min-certainty' || argument.startsWith('--min-certainty=')) {
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
  if (specimens !== null && paths.length > 0)
    return {
      status: 'wrong',
      problem: 'Specimens are judged alone: give a folder of them or paths, not both',
    };
  if (specimens === null && paths.length === 0) return { status: 'wrong', problem: 'No path was given' };
  return { status: 'understood', choices: { json, showValues, minCertainty, specimens, paths } };
}
