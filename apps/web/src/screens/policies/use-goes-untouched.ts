import type { PolicyView } from '@lantern/contracts';
import { useEffect, useRef } from 'react';
import { useRemovePolicy } from '../../data/policies';

/** Removals that wait for a moment: a page that is drawn again at once keeps its policy. */
const leaving = new Map<string, ReturnType<typeof setTimeout>>();
const LEAVE_MS = 300;

/** Removes a new policy when its page is left without a word in it: nobody looks for it later. */
export function useGoesUntouched({ policy, version }: PolicyView, touched: boolean): void {
  const remove = useRemovePolicy();
  const isTouched = useRef(touched);
  useEffect(() => {
    isTouched.current ||= touched;
  }, [touched]);
  const { id } = policy;
  const isNew = version === 1 && policy.name === '' && policy.purpose === '';
  const { mutate } = remove;
  useEffect(() => {
    clearTimeout(leaving.get(id));
    return () => {
      if (!isNew || isTouched.current) return;
      leaving.set(
        id,
        setTimeout(() => mutate(id), LEAVE_MS),
      );
    };
  }, [id, isNew, mutate]);
}
