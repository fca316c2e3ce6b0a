/** What the commands say to the person who runs them. Quiet mode keeps standard output free for results. */

let stream = process.stdout;

/** Sends everything said to standard error: for commands whose standard output is their result. */
export function sayOnStandardError() {
  stream = process.stderr;
}

export function say(text) {
  stream.write(`${text}\n`);
}

/** A stop with a sentence and a way on; shown without a stack trace. */
export class PlainFailure extends Error {
  constructor(what, wayOn = '') {
    super(what);
    this.wayOn = wayOn;
  }
}

/** Runs a command's main function; every failure ends as sentences and exit code 1. */
export async function runMain(main) {
  try {
    await main();
  } catch (error) {
    process.exitCode = 1;
    if (error instanceof PlainFailure) {
      process.stderr.write(`\n${error.message}\n${error.wayOn ? `${error.wayOn}\n` : ''}`);
      return;
    }
    process.stderr.write(`\nSomething unexpected went wrong: ${describe(error)}\n`);
    if (process.env.LANTERN_DEBUG) process.stderr.write(`${error?.stack ?? ''}\n`);
    else process.stderr.write('Run it again with LANTERN_DEBUG=1 to see where.\n');
  }
}

function describe(error) {
  if (error?.code === 'ENOSPC')
    return 'the disk is full. Free some space and run it again; nothing that was saved is lost.';
  if (error?.code === 'EACCES' || error?.code === 'EPERM')
    return `${error.path ?? 'a file'} may not be written by this account.`;
  return error?.message ?? String(error);
}
