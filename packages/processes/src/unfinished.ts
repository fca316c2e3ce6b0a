import type { FaultReason } from './one-process.js';

/** Why a file has no answer whose process came to no end, in the words that reading files uses. */
export const UNFINISHED: Readonly<Record<FaultReason, string>> = {
  'took-too-long': 'took-too-long',
  'too-much-memory': 'expands-too-far',
  ended: 'corrupt',
  threw: 'corrupt',
  stopped: 'stopped',
};
