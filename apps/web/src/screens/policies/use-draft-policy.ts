import type { PolicyView } from '@lantern/contracts';
import type { Policy } from '@lantern/core/policy';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { savePolicy } from '../../data/policies';
import { ApiError } from '../../data/client';
import { errorSentence } from '../../wording/errors';
import { forgetUnsaved, keepUnsaved, unsavedOf } from './unsaved';
import { KEYS } from '../../data/keys';

/** Typing pauses this long before the draft is saved. */
const PAUSE_MS = 500;
/** A save that failed is tried again after this. */
const RETRY_MS = 4_000;
/** Steps that can be undone. */
const MOST_STEPS = 100;

export type SaveState =
  | { readonly status: 'saved' }
  | { readonly status: 'saving' }
  | { readonly status: 'failed'; readonly sentence: string };

/** Saves drafts one after the other, the newest only, after typing pauses; leaving the page saves what still waits. */
function useSaver(view: PolicyView) {
  const queries = useQueryClient();
  const [problems, setProblems] = useState(view.problems);
  const [state, setState] = useState<SaveState>({ status: 'saved' });
  const version = useRef(view.version);
  const waiting = useRef<Policy | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const saving = useRef(false);

  const flushAgain = useRef<() => Promise<void>>(() => Promise.resolve());
  const flush = useCallback(async () => {
    if (timer.current) clearTimeout(timer.current);
    while (!saving.current && waiting.current) {
      const next = waiting.current;
      waiting.current = null;
      saving.current = true;
      try {
        const saved = await savePolicy(next.id, next, version.current);
        version.current = saved.version;
        setProblems(saved.problems);
        setState({ status: 'saved' });
        queries.setQueryData([KEYS.policies, next.id], saved);
        forgetUnsaved(next.id);
      } catch (error) {
        setState({ status: 'failed', sentence: errorSentence(error) });
        // What was typed stays, here and for the next visit, and is tried again unless somebody else was quicker.
        waiting.current ??= next;
        if (isConflict(error)) return;
        timer.current = setTimeout(() => void flushAgain.current(), RETRY_MS);
        return;
      } finally {
        saving.current = false;
      }
    }
  }, [queries]);

  useEffect(() => {
    flushAgain.current = flush;
  }, [flush]);

  const put = useCallback(
    (next: Policy) => {
      setState({ status: 'saving' });
      waiting.current = next;
      keepUnsaved(next, version.current);
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [flush],
  );

  useEffect(() => () => void flush(), [flush]);

  return { problems, state, put, flush };
}

/** A policy being edited: every change is saved as a draft by itself and can be undone. */
export function useDraftPolicy(view: PolicyView) {
  const { problems, state, put, flush } = useSaver(view);
  const [policy, setPolicy] = useState<Policy>(() => unsavedOf(view) ?? view.policy);
  // What a reload or a lost connection kept from being saved is saved now.
  useEffect(() => {
    const kept = unsavedOf(view);
    if (kept) put(kept);
    // Once, as the page opens.
  }, []);
  const [past, setPast] = useState<readonly Policy[]>([]);

  const change = (next: Policy) => {
    setPast((steps) => [...steps.slice(1 - MOST_STEPS), policy]);
    setPolicy(next);
    put(next);
  };

  const undo = () => {
    const before = past.at(-1);
    if (!before) return;
    setPast((steps) => steps.slice(0, -1));
    setPolicy(before);
    put(before);
  };

  return { policy, problems, state, change, undo, canUndo: past.length > 0, saveNow: flush };
}

/** Somebody else saved meanwhile: trying again would go over theirs. */
function isConflict(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'changed-meanwhile';
}
