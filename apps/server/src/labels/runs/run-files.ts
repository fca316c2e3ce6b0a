import type { RunFile, RunFileResult } from '@lantern/files';
import type { FaultReason, ProcessPool } from '@lantern/processes';

/** Looks at some files; where their process ends with one of them, at each alone, so that it stands for itself only. */
export async function runFiles(
  pool: ProcessPool,
  files: readonly RunFile[],
  signal: AbortSignal,
): Promise<RunFileResult[]> {
  const outcome = await pool.run<RunFileResult[]>('run', files, { signal });
  if (outcome.status === 'done') return outcome.value;
  if (files.length === 1 || outcome.reason === 'stopped') return files.map(() => notFinished(outcome.reason));
  const results: RunFileResult[] = [];
  for (const file of files) results.push(...(await runFiles(pool, [file], signal)));
  return results;
}

const REASONS: Readonly<Record<FaultReason, string>> = {
  'took-too-long': 'took-too-long',
  'too-much-memory': 'expands-too-far',
  ended: 'corrupt',
  threw: 'corrupt',
  stopped: 'took-too-long',
};

function notFinished(reason: FaultReason): RunFileResult {
  return {
    ...{ outcome: 'unreadable', before: null, label: null, rule: null, outranked: [], held: [] },
    reason: REASONS[reason],
    applied: false,
    setAt: null,
  };
}
