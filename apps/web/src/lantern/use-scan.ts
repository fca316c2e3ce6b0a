import type { LanternSet, LanternSide } from '@lantern/contracts';
import { type Finding } from '@lantern/core/detection';
import { NO_LABELS } from '@lantern/core/labels';
import { NO_POLICIES } from '@lantern/core/policy';
import { useEffect, useRef, useState } from 'react';
import type { LanternAnswer, LanternQuestion } from './worker';

export interface ScanState {
  readonly text: string;
  readonly published: readonly Finding[];
  readonly drafts: readonly Finding[];
}

/** Typing pauses this long before the worker is asked. */
const PAUSE_MS = 80;

/** Scans `text` in a web worker with the published and the drafted patterns; the newest text wins. */
export function useScan(text: string, set: LanternSet | undefined): ScanState | null {
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  const [state, setState] = useState<ScanState | null>(null);
  useEffect(() => {
    const made = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    worker.current = made;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (!set || !worker.current) return;
    const timer = setTimeout(() => {
      asked.current += 1;
      const id = asked.current;
      const published: LanternSide = set.published ?? {
        revision: null,
        own: [],
        set: NO_POLICIES,
        labels: NO_LABELS,
      };
      if (!worker.current) return;
      worker.current.onmessage = ({ data }: MessageEvent<LanternAnswer>) => {
        if (data.id !== asked.current) return;
        setState({ text, published: data.findings[0] ?? [], drafts: data.findings[1] ?? [] });
      };
      const sides = [published, set.drafts].map(({ own }) => ({
        key: JSON.stringify(own),
        own,
      }));
      worker.current.postMessage({ id, text, sides } satisfies LanternQuestion);
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text, set]);
  return text === '' ? null : state;
}
