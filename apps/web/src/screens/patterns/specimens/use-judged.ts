import type { Pattern } from '@lantern/core/detection';
import { useEffect, useRef, useState } from 'react';
import type { JudgeAnswer, JudgedText, JudgeQuestion } from './judge-worker';

/** Typing pauses this long before specimens are judged again. */
const PAUSE_MS = 120;
/** A judgement that takes longer is given up; what was typed stays. */
const LIMIT_MS = 20_000;

export type Judged =
  | { readonly status: 'waiting' }
  | { readonly status: 'judged'; readonly judged: readonly JudgedText[] }
  | { readonly status: 'too-slow' };

/** Holds texts to a pattern while it is being written, in a worker; the newest question wins. */
export function useJudged(
  pattern: string,
  saved: Pattern | null,
  written: Pattern | null,
  texts: JudgeQuestion['texts'],
): Judged {
  const asked = useRef(0);
  const [judged, setJudged] = useState<Judged>({ status: 'waiting' });
  const question = JSON.stringify([pattern, saved, written, texts]);
  useEffect(() => {
    if (!written) return;
    asked.current += 1;
    const id = asked.current;
    let worker: Worker | null = null;
    let limit: ReturnType<typeof setTimeout> | undefined;
    const pause = setTimeout(() => {
      worker = new Worker(new URL('./judge-worker.ts', import.meta.url), { type: 'module' });
      limit = setTimeout(() => {
        worker?.terminate();
        setJudged({ status: 'too-slow' });
      }, LIMIT_MS);
      worker.onmessage = ({ data }: MessageEvent<JudgeAnswer>) => {
        clearTimeout(limit);
        worker?.terminate();
        if (data.id === asked.current) setJudged({ status: 'judged', judged: data.judged });
      };
      worker.postMessage({ id, pattern, saved, written, texts } satisfies JudgeQuestion);
    }, PAUSE_MS);
    return () => {
      clearTimeout(pause);
      clearTimeout(limit);
      worker?.terminate();
    };
    // The question stands for all of its parts: they are new objects at each drawing.
  }, [question]);
  return judged;
}
