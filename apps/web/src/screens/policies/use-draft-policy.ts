import type { PolicyView } from '@lantern/contracts';
import type { Policy } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { savePolicy } from '../../data/policies';
import { errorSentence } from '../../wording/errors';

/** Typing pauses this long before the draft is saved. */
const PAUSE_MS = 500;
/** Steps that can be undone. */
const MOST_STEPS = 100;

export type SaveState = { readonly status: 'saved' } | { readonly status: 'saving' } | { readonly status: 'failed'; readonly sentence: string };

/** A policy being edited: every change is saved as a draft by itself and can be undone. */
export function useDraftPolicy(view: PolicyView) {
  const queries = useQueryClient();
  const [policy, setPolicy] = useState<Policy>(view.policy);
  const [problems, setProblems] = useState(view.problems);
  const [state, setState] = useState<SaveState>({ status: 'saved' });
  const [past, setPast] = useState<readonly Policy[]>([]);
  const version = useRef(view.version);
  const waiting = useRef<Policy | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const saving = useRef(false);

  const flush = useCallback(async () => {
    if (saving.current || !waiting.current) return;
    const next = waiting.current;
    waiting.current = null;
    saving.current = true;
    try {
      const saved = await savePolicy(next.id, next, version.current);
      version.current = saved.version;
      setProblems(saved.problems);
      setState({ status: 'saved' });
      queries.setQueryData(['policies', next.id], saved);
    } catch (error) {
      setState({ status: 'failed', sentence: errorSentence(error) });
    } finally {
      saving.current = false;
    }
    if (waiting.current) await flush();
  }, [queries]);

  const put = useCallback(
    (next: Policy) => {
      setPolicy(next);
      setState({ status: 'saving' });
      waiting.current = next;
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [flush],
  );

  const change = useCallback(
    (next: Policy) => {
      setPast((steps) => [...steps.slice(1 - MOST_STEPS), policy]);
      put(next);
    },
    [policy, put],
  );

  const undo = useCallback(() => {
    const before = past.at(-1);
    if (!before) return;
    setPast((steps) => steps.slice(0, -1));
    put(before);
  }, [past, put]);

  // Leaving the page saves what still waits.
  useEffect(
    () => () => {
      if (timer.current) clearTimeout(timer.current);
      void flush();
    },
    [flush],
  );

  return { policy, problems, state, change, undo, canUndo: past.length > 0 };
}
